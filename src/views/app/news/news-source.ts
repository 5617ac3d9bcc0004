import type { Changed, Here } from '../../../server/live/news.ts';
import type { Progress } from '../../../server/live/news.ts';

/** A window that is somewhere. */
export type Elsewhere = Omit<Here, 'type'>;

/** What a window hears. */
export type Heard =
  | { type: 'changed'; changed: Changed }
  | { type: 'progress'; progress: Progress }
  | { type: 'here'; windows: Elsewhere[] }
  /** News are heard from now on. */
  | { type: 'open' }
  /** Something may have been missed. */
  | { type: 'missed' };

/** A connection that was refused or broke is tried again after so long, in milliseconds. */
const AGAIN_AFTER = 3000;

/** Hears news of the server for as long as the page is open; `again` begins anew, as where somebody else has signed in. */
export function openNews(tell: (heard: Heard) => void): { again: () => void } {
  const { EventSource: Source } = globalThis as { EventSource?: typeof EventSource };
  if (!Source) return { again: () => {} };
  let source: EventSource;
  let later: ReturnType<typeof setTimeout> | undefined;
  let wasOpen = false;
  const open = () => {
    source = new Source('/api/events');
    source.onopen = () => {
      tell({ type: wasOpen ? 'missed' : 'open' });
      wasOpen = true;
    };
    source.onerror = () => {
      // Broken, it tries again by itself; refused, it does not.
      if (source.readyState === Source.CLOSED) later = setTimeout(open, AGAIN_AFTER);
    };
    const on = (name: string, heard: (data: string) => Heard) =>
      source.addEventListener(name, ({ data }: MessageEvent<string>) => tell(heard(data)));
    on('changed', (data) => ({ type: 'changed', changed: JSON.parse(data) as Changed }));
    on('progress', (data) => ({ type: 'progress', progress: JSON.parse(data) as Progress }));
    on('here', (data) => ({ type: 'here', windows: JSON.parse(data) as Elsewhere[] }));
    on('missed', () => ({ type: 'missed' }));
  };
  open();
  return {
    again() {
      clearTimeout(later);
      source.close();
      open();
    },
  };
}
