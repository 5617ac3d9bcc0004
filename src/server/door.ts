import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { boundHost, LOOPBACK, publicUrl } from './people/setting.ts';

export interface Refusal {
  status: 403 | 411;
  sentence: string;
}

/** Addresses that mean "every address of this machine". */
const EVERYWHERE = ['0.0.0.0', '::', '[::]'];

const READING = ['GET', 'HEAD', 'OPTIONS'];

/**
 * Why a request may not come in, or null. A page from elsewhere can make a browser send requests here: writes
 * need the origin of our own pages. A foreign name can be made to point here: only names this server goes by
 * are answered. Bodies must say their length, so that limits hold before anything is read.
 */
export function refusalOf(request: Pick<Request, 'method' | 'headers'>): Refusal | null {
  const host = request.headers.get('host') ?? '';
  if (!isOurName(host)) {
    return { status: 403, sentence: `This server does not go by the name "${host.slice(0, 100)}".` };
  }
  if (READING.includes(request.method)) return null;
  const origin = request.headers.get('origin');
  if (!origin || hostOf(origin) !== host) {
    return { status: 403, sentence: "Changes are taken from Hollow Basket's own pages only." };
  }
  if (request.headers.has('transfer-encoding') && !request.headers.has('content-length')) {
    return { status: 411, sentence: 'A request with a body has to say its length.' };
  }
  return null;
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}

function isOurName(host: string): boolean {
  const name = host.replace(/:\d+$/, '').toLowerCase();
  const bound = boundHost();
  // The name people know it by, where something stands before it; it comes with the port that it has there.
  if (host.toLowerCase() === publicUrl()?.host) return true;
  if (LOOPBACK.includes(name) || name === bound) return true;
  // An address cannot be pointed elsewhere, and the machine's own name is its owner's choice.
  return (
    EVERYWHERE.includes(bound) &&
    (isIP(name.replace(/^\[|\]$/g, '')) !== 0 || name === hostname().toLowerCase())
  );
}
