/// <reference lib="webworker" />
import { openNews } from './news-source.ts';

/**
 * One connection for all windows of this browser: it allows six to a server at once (RFC 9112, section 9.4, leaves the number to it), and
 * a seventh window would have none left to ask anything.
 */
declare const self: SharedWorkerGlobalScope;

const ports = new Set<MessagePort>();
const news = openNews((one) => ports.forEach((port) => port.postMessage(one)));

self.onconnect = ({ ports: [port] }) => {
  ports.add(port!);
  port!.onmessage = ({ data }: MessageEvent<'again' | 'bye'>) => {
    if (data === 'bye') ports.delete(port!);
    else news.again();
  };
};
