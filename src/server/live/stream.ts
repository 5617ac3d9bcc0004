import { hearNews, type News } from './news.ts';
import { whoIsWhere } from './presence.ts';

/** How often it is said that the server is there, and looked whether who listens still may, in milliseconds. */
const BEAT = 20_000;

/** Somebody who listens. */
export interface Listening {
  /** A guest hears that baskets change, and nothing else. */
  isGuest: boolean;
  /** Whether they may go on: somebody may have been signed out meanwhile. */
  mayGoOn: () => Promise<boolean>;
}

/**
 * News as server-sent events (HTML Living Standard, "Server-sent events"): `changed`, `here` with all windows, and `missed`; until
 * the page leaves or may no longer listen.
 */
export function newsStream({ isGuest, mayGoOn }: Listening): Response {
  const encoder = new TextEncoder();
  let end = () => {};
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const write = (text: string) => controller.enqueue(encoder.encode(text));
      const send = (name: string, data: unknown) =>
        write(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`);
      const forget = hearNews((news) => {
        if (!isGuest || isForGuests(news)) send(news.type, news.type === 'here' ? whoIsWhere() : news);
      });
      const beat = setInterval(() => {
        void mayGoOn()
          // A database that is away for a moment shuts nobody out.
          .catch(() => true)
          .then((may) => (may ? write(': here\n\n') : end()));
      }, BEAT);
      end = () => {
        clearInterval(beat);
        forget();
        end = () => {};
        try {
          controller.close();
        } catch {
          // The page was quicker.
        }
      };
      write('retry: 2000\n\n');
      if (!isGuest) send('here', whoIsWhere());
    },
    cancel: () => end(),
  });
  return new Response(body, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      // What stands before this server (nginx, by default) would keep events back.
      'x-accel-buffering': 'no',
    },
  });
}

const isForGuests = (news: News) =>
  news.type === 'missed' || (news.type === 'changed' && news.kind === 'basket');
