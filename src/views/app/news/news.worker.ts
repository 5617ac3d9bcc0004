/// <reference lib="webworker" />
import { openNews, type Heard } from './news-source.ts';

/**
 * One connection for all windows of this browser: it allows six to a server at once (RFC 9112, section 9.4, leaves the number to it), and
 * a seventh window would have none left to ask anything.
 */
declare const self: SharedWorkerGlobalScope;

const ports = new Set<MessagePort>();
/** Who was where the last time that was told: a window that comes later has not heard it. */
let here: Heard | null = null;
const news = openNews((one) => {
  if (one.type === 'here') here = one;
  ports.forEach((port) => port.postMessage(one));
});

self.onconnect = ({ ports: [port] }) => {
  ports.add(port!);
  if (here) port!.postMessage(here);
  port!.onmessage = ({ data }: MessageEvent<'again' | 'bye'>) => {
    if (data === 'bye') ports.delete(port!);
    else news.again();
  };
};
