import { useMemo } from 'react';
import { Link, useNavigate } from 'react-router';
import type { LibraryHarmony } from '../../core/catalog/harmony.ts';
import { countProgressions, type Counted } from '../../core/analyze/progressions.ts';
import { keyName, tonicName, type Mode } from '../../core/music/key.ts';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHarmony } from '../api/queries.ts';
import { CountGraph, type GraphBar } from './CountGraph.tsx';
import { KeptChangesList } from './KeptChangesList.tsx';

/** So many bars of a graph can be read. */
const MOST_BARS = 10;

/** The harmony of the library: what progressions begin and end on, where they go, and which keys and tempos are there. */
export default function HarmonyView() {
  const navigate = useNavigate();
  const harmony = useHarmony();
  useActions('Harmony', [
    { title: 'Back to the phrases', keys: ['Escape'], run: () => void navigate('/library') },
  ]);
  if (harmony.error)
    return <EmptyState title="The harmony could not be counted">{harmony.error.message}</EmptyState>;
  if (!harmony.data) return <Busy what="Counting" />;
  return <Harmony harmony={harmony.data} />;
}

function Harmony({ harmony }: { harmony: LibraryHarmony }) {
  const { starts, ends, moves } = useMemo(() => countProgressions(harmony.lines), [harmony.lines]);
  const phrases = harmony.lines.reduce((sum, { count }) => sum + count, 0);
  const keys = keyBars(harmony.keys);
  const tempos = tempoBars(harmony.tempos);
  if (phrases === 0)
    return (
      <EmptyState
        title="No chords are kept yet"
        action={
          <Link className="underline" to="/split">
            Choose bars of a take
          </Link>
        }
      >
        A phrase knows the chords of its bars. Keep one, and it is counted here.
      </EmptyState>
    );
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-4 overflow-auto px-5 py-3">
        <div className="flex items-baseline gap-4">
          <h1 className="text-xl">Harmony of the library</h1>
          <span className="text-sm text-muted">
            {phrases.toLocaleString('en')} sheaves and single phrases with chords,{' '}
            {harmony.lines.length.toLocaleString('en')} different progressions
          </span>
          <Link className="ml-auto text-sm underline decoration-rule underline-offset-3" to="/library">
            The phrases
          </Link>
        </div>
        <div className="grid grid-cols-3 gap-x-6 gap-y-4">
          <CountGraph title="Begin on" unit="progressions" bars={numeralBars(starts, 'starts')} />
          <CountGraph title="End on" unit="progressions" bars={numeralBars(ends, 'ends')} />
          <CountGraph title="Common moves" unit="progressions" bars={numeralBars(moves, 'changes')} />
        </div>
        <div className="grid grid-cols-[7fr_3fr] gap-x-6">
          <CountGraph title="Keys" unit="progressions" bars={keys} upright missing={missingWords(keys)} />
          <CountGraph
            title="Tempos, BPM"
            unit="progressions"
            bars={tempos}
            upright
            missing={missingWords(tempos)}
          />
        </div>
      </div>
      <aside aria-label="Kept changes" className="flex w-[300px] flex-none flex-col border-l border-rule p-4">
        <KeptChangesList />
      </aside>
    </>
  );
}

function numeralBars(counted: readonly Counted[], param: 'starts' | 'ends' | 'changes'): GraphBar[] {
  return counted.slice(0, MOST_BARS).map(({ what, count }) => ({
    label: what.replace(' ', ' → '),
    count,
    to: `/library?${new URLSearchParams({ [param]: what })}`,
  }));
}

const SHOWN_MODES: readonly Mode[] = ['major', 'minor'];

/** All major and minor keys by fifths, those that are missing among them, then the church modes that are there. */
function keyBars(keys: LibraryHarmony['keys']): GraphBar[] {
  const bar = (tonic: number, mode: Mode): GraphBar => ({
    label:
      mode === 'major'
        ? tonicName({ tonic, mode })
        : mode === 'minor'
          ? `${tonicName({ tonic, mode })}m`
          : keyName({ tonic, mode }),
    count: keys.find((key) => key.tonic === tonic && key.mode === mode)?.count ?? 0,
    to: `/library?${new URLSearchParams({ key: `${tonic} ${mode}` })}`,
  });
  const byFifths = Array.from({ length: 12 }, (_, k) => (k * 7) % 12);
  return [
    ...SHOWN_MODES.flatMap((mode) => byFifths.map((tonic) => bar(tonic, mode))),
    ...keys.filter(({ mode }) => !SHOWN_MODES.includes(mode)).map(({ tonic, mode }) => bar(tonic, mode)),
  ];
}

/** Bands of ten BPM from the slowest to the fastest, those that are missing among them. */
function tempoBars(tempos: LibraryHarmony['tempos']): GraphBar[] {
  if (tempos.length === 0) return [];
  const [first, last] = [
    Math.min(...tempos.map(({ bpm }) => bpm)),
    Math.max(...tempos.map(({ bpm }) => bpm)),
  ];
  return Array.from({ length: (last - first) / 10 + 1 }, (_, k) => {
    const bpm = first + 10 * k;
    return {
      label: String(bpm),
      count: tempos.find((band) => band.bpm === bpm)?.count ?? 0,
      to: `/library?tempo=${bpm}`,
    };
  });
}

function missingWords(bars: readonly GraphBar[]): string {
  const missing = bars.filter(({ count }) => count === 0).map(({ label }) => label);
  return missing.length === 0 ? 'None is missing.' : `Missing: ${missing.join(', ')}.`;
}
