import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { toast } from 'sonner';
import { create } from 'zustand';
import type { Changed } from '../../../server/live/news.ts';
import { sendJson } from '../../api/client.ts';
import { queryClient } from '../../api/queries.ts';
import { WINDOW } from '../../api/window.ts';
import { changedByOthers } from '../../shared/takes/editing.ts';
import { CONCERNS } from './concerns.ts';
import { hearProgress, lookAtWork } from './progress.ts';
import { openNews, type Elsewhere, type Heard } from './news-source.ts';

/** Who else is where. */
export const useElsewhere = create<{ windows: readonly Elsewhere[] }>(() => ({ windows: [] }));

/** Changes that come within this time are asked for once, in milliseconds: a colleague's ten moves are one look. */
const TOGETHER = 250;

let waiting: Changed[] = [];

function onHeard(heard: Heard): void {
  if (heard.type === 'here')
    useElsewhere.setState({ windows: heard.windows.filter(({ window }) => window !== WINDOW) });
  else if (heard.type === 'missed') void queryClient.invalidateQueries();
  else if (heard.type === 'open') lookAtWork();
  else if (heard.type === 'progress') hearProgress(heard.progress);
  else if (heard.changed.window !== WINDOW) {
    if (waiting.length === 0) setTimeout(lookAgain, TOGETHER);
    waiting.push(heard.changed);
  }
}

function lookAgain(): void {
  const all = waiting;
  waiting = [];
  const keys = new Map<string, string[]>([['stages', ['stages']]]);
  for (const { kind, id } of all) {
    const { one, lists } = CONCERNS[kind];
    for (const list of lists) keys.set(list, [list]);
    // Who did what to it is shown beside it.
    if (id) keys.set(`deeds ${id}`, ['deeds', id]);
    if (one && !keys.has(one)) keys.set(id ? `${one} ${id}` : one, id ? [one, id] : [one]);
  }
  for (const queryKey of keys.values()) void queryClient.invalidateQueries({ queryKey });
  for (const changed of all) tellWhereShown(changed);
}

/** Says whose change it is where somebody looks at what was changed. What was done here before stands under it: it is taken back in its history. */
function tellWhereShown({ kind, id, by }: Changed): void {
  if (kind === 'take' && id) changedByOthers(id);
  if (!id || !location.pathname.includes(id)) return;
  toast(`${by || 'Another window'} changed this. It is shown as it is now.`, { id: `changed ${id}` });
}

let again = () => {};
let isListening = false;

/** Begins to hear what others change; again, where somebody else has signed in. */
export function hearOthers(): void {
  if (isListening) return again();
  isListening = true;
  if (!(globalThis as { SharedWorker?: unknown }).SharedWorker) {
    ({ again } = openNews(onHeard));
    return;
  }
  const { port } = new SharedWorker(new URL('./news.worker.ts', import.meta.url), {
    type: 'module',
    name: 'news',
  });
  port.onmessage = ({ data }: MessageEvent<Heard>) => onHeard(data);
  port.start();
  addEventListener('pagehide', () => port.postMessage('bye'));
  again = () => port.postMessage('again');
}

/** A window is forgotten after some more than a minute. */
const SAID_EVERY = 30_000;

/** What is to be said; null where nothing is. */
let toSay: string | null = null;
let isSaying = false;

/** Says where this window is: one at a time, that what was said first is not heard last. */
async function say(path: string): Promise<void> {
  toSay = path;
  if (isSaying) return;
  isSaying = true;
  for (let next: string | null = path; next !== null; next = toSay) {
    toSay = null;
    // It is no more than a courtesy: where it fails nothing is said.
    await sendJson('POST', '/api/events/here', { window: WINDOW, path: next }).catch(() => {});
  }
  isSaying = false;
}

/** Says where this window is, and that it is still there. */
export function useSaysWhere(): void {
  const { pathname } = useLocation();
  useEffect(() => {
    // The page is going: nothing that is said later would be heard.
    const leave = () =>
      void sendJson('POST', '/api/events/here', { window: WINDOW, path: '' }).catch(() => {});
    void say(pathname);
    const beat = setInterval(() => void say(pathname), SAID_EVERY);
    addEventListener('pagehide', leave);
    return () => {
      clearInterval(beat);
      removeEventListener('pagehide', leave);
    };
  }, [pathname]);
}
