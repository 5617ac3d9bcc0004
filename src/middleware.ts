import { defineMiddleware } from 'astro:middleware';
import { problemResponse } from './pages/api/_answer.ts';
import { refusalOf } from './server/door.ts';

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

/** The door: who may come in, and what pages may do. */
export const onRequest = defineMiddleware(async ({ request }, next) => {
  const refusal = refusalOf(request);
  const response = refusal ? problemResponse(refusal.status, refusal.sentence) : await next();
  response.headers.set('content-security-policy', CONTENT_SECURITY_POLICY);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  response.headers.set('cross-origin-resource-policy', 'same-origin');
  return response;
});
