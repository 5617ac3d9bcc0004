import { hearNews, type News } from './news.ts';
import { whoIsWhere } from './presence.ts';

/** How often it is said that the server is there, and looked whether who listens still may, in milliseconds. */
const BEAT = 20_000;

/** Somebody who listens. */
export interface Listening {
  /** Whether something is for them. */
  hears: (news: News) => Promise<boolean>;
  /** Whether they may go on: somebody may have been signed out meanwhile. */
  mayGoOn: () => Promise<boolean>;
}

/**
 * News as server-sent events (HTML Living Standard, "Server-sent events"): `changed`, `here` with all windows, and `missed`; until
 * the page leaves or may no longer listen.
 */
export function newsStream({ hears, mayGoOn }: Listening): Response {
  const encoder = new TextEncoder();
  let end = () => {};
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const write = (text: string) => controller.enqueue(encoder.encode(text));
      const send = (name: string, data: unknown) =>
        write(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`);
      const forget = hearNews((news) => {
        void hears(news)
          // What cannot be looked up now is looked up by the page.
          .catch(() => true)
          .then((isTheirs) => isTheirs && send(news.type, told(news)))
          .catch(() => end());
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
      void hears(HERE).then((isTheirs) => isTheirs && send('here', whoIsWhere()));
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

/** Where windows are is told whole, each time. */
const told = (news: News) => (news.type === 'here' ? whoIsWhere() : news);

/** What is said of windows, to ask who hears of them. */
const HERE: News = { type: 'here', window: '', by: '', path: '' };
