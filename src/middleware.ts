import type { APIContext } from 'astro';
import { defineMiddleware } from 'astro:middleware';
import { problemOf, problemResponse } from './pages/api/_answer.ts';
import { getLibrary } from './server/app.ts';
import { refusalOf } from './server/door.ts';
import { admit } from './server/people/gate.ts';
import { ruleOf } from './server/people/permissions.ts';
import { accountsAreOn, isEncrypted } from './server/people/setting.ts';
import { sessionToken } from './pages/api/_session.ts';

/** Only what the application itself serves may run, load or be spoken to. Styles are also set by scripts of ours. */
const CONTENT_SECURITY_POLICY = [
  "default-src 'none'",
  // The synthesizer's decoder is WebAssembly. No script but the application's own files runs.
  "script-src 'self' 'wasm-unsafe-eval'",
  "style-src 'self' 'unsafe-inline'",
  "font-src 'self'",
  "img-src 'self' data:",
  "connect-src 'self'",
  "worker-src 'self'",
  "form-action 'self'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
].join('; ');

/** The door and the gate: who may come in, what they may do, and what pages may do. */
export const onRequest = defineMiddleware(async (context, next) => {
  const refusal = refusalOf(context.request) ?? (await refusedAtGate(context));
  const response = refusal ? problemResponse(refusal.status, refusal.sentence) : await next();
  const { headers } = response;
  headers.set('content-security-policy', CONTENT_SECURITY_POLICY);
  headers.set('x-content-type-options', 'nosniff');
  headers.set('referrer-policy', 'same-origin');
  headers.set('cross-origin-opener-policy', 'same-origin');
  headers.set('cross-origin-resource-policy', 'same-origin');
  if (isEncrypted()) headers.set('strict-transport-security', 'max-age=31536000');
  // What is the library's is kept by no cache on the way.
  if (isEndpoint(context) && !headers.has('cache-control')) headers.set('cache-control', 'no-store');
  return response;
});

const isEndpoint = ({ url }: APIContext) => url.pathname.startsWith('/api/');

/** Pages hold nothing of the library: the gate stands before the endpoints. */
async function refusedAtGate(context: APIContext): Promise<{ status: number; sentence: string } | null> {
  const { locals, routePattern, request, params } = context;
  const rule = ruleOf(request.method, routePattern);
  Object.assign(locals, { person: null, rule });
  if (!isEndpoint(context) || !accountsAreOn()) return null;
  try {
    const { db } = await getLibrary();
    const admission = await admit(db, { rule, id: params.id, token: sessionToken(context) });
    if (admission.refused) return admission.refused;
    locals.person = admission.person;
    return null;
  } catch (error) {
    return problemOf(error);
  }
}
