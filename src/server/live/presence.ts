import { hearNews, type Here } from './news.ts';

/** A window that is not heard of for so long is gone, in milliseconds. */
const GONE_AFTER = 70_000;

interface Seen extends Here {
  at: number;
}

const holder = globalThis as { hollowBasketPresence?: Map<string, Seen> };

/** By window, who is where; kept by what is heard, in every process alike. */
function windows(): Map<string, Seen> {
  if (!holder.hollowBasketPresence) {
    const all = new Map<string, Seen>();
    holder.hollowBasketPresence = all;
    hearNews((news) => {
      if (news.type !== 'here') return;
      if (news.path === '') all.delete(news.window);
      else all.set(news.window, { ...news, at: Date.now() });
    });
  }
  return holder.hollowBasketPresence;
}

/** Begins to keep who is where. */
export function watchPresence(): void {
  windows();
}

/** Who is where just now, each window once. */
export function whoIsWhere(): Omit<Here, 'type'>[] {
  const since = Date.now() - GONE_AFTER;
  const all = windows();
  for (const { window, at } of all.values()) if (at < since) all.delete(window);
  return [...all.values()].map(({ window, by, path }) => ({ window, by, path }));
}
