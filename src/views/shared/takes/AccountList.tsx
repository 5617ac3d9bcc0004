import { useMutation } from '@tanstack/react-query';
import { TriangleAlert } from 'lucide-react';
import { Link } from 'react-router';
import type { Account, AccountFinding } from '../../../core/analyze/account.ts';
import { barStart, EARLY } from '../../../core/music/timeline.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { sendJson } from '../../api/client.ts';
import { tellProblem, renew } from '../../api/queries.ts';
import { useFill } from './fill.ts';
import { fetchSplit } from './heard-take.ts';
import { useMake } from './make.ts';
import type { BarRange } from './strand-columns.ts';

/** What came, against what was asked, in one line. */
export function accountWords({ notes, channels, barsAsked, barsReceived }: Account): string {
  if (notes === 0) return 'Nothing came.';
  const bars = barsAsked === null ? plural(barsReceived, 'bar') : `${barsReceived} of ${barsAsked} bars`;
  const on = channels.length === 1 ? `on channel ${channels[0]}` : `on ${channels.length} channels`;
  return `${notes.toLocaleString('en')} notes ${on}, ${bars}.`;
}

/** What looks wrong with a take, each with the way out. */
export function AccountList({ account, takeId }: { account: Account; takeId: string | null }) {
  if (account.findings.length === 0) return <p className="text-sm text-good">Nothing looks wrong.</p>;
  return (
    <ul className="grid gap-2">
      {account.findings.map((finding) => (
        <li key={finding.code + finding.text} className="border-l-3 border-l-madder pl-2 text-sm">
          <p className="font-bold">
            <TriangleAlert size={13} aria-hidden="true" className="mr-1 inline text-madder" />
            {finding.text}
          </p>
          <p className="text-muted">{finding.way}</p>
          {takeId && finding.code === 'oneBar' && account.barsAsked !== null && (
            <FillWay takeId={takeId} bars={account.barsAsked} />
          )}
          {takeId && finding.bars && <WayOut finding={finding} takeId={takeId} bars={finding.bars} />}
        </li>
      ))}
    </ul>
  );
}

function WayOut({ finding, takeId, bars }: { finding: AccountFinding; takeId: string; bars: BarRange }) {
  return (
    <div className="mt-1 flex flex-wrap gap-1.5">
      {finding.code === 'tail' && <TailWays takeId={takeId} bars={bars} />}
      <Link
        to={`/split/${takeId}?bars=${bars.start}-${bars.start + bars.count - 1}`}
        className="text-xs leading-6 underline decoration-rule underline-offset-3"
      >
        show {bars.count === 1 ? `bar ${bars.start}` : `bars ${bars.start} to ${bars.start + bars.count - 1}`}
      </Link>
    </div>
  );
}

/** A pattern that came once although more bars were asked for: repeated until they are filled. */
function FillWay({ takeId, bars }: { takeId: string; bars: number }) {
  const fill = useFill(takeId);
  return (
    <Button small className="mt-1" disabled={fill.isPending} onClick={() => fill.mutate({ bars })}>
      Fill {plural(bars, 'bar')}
    </Button>
  );
}

/** Bars beyond what was asked: phrases that are tagged as an ending, or set aside. */
function TailWays({ takeId, bars }: { takeId: string; bars: BarRange }) {
  const ending = useMake(takeId, async () => {
    const { parts } = await playedIn(takeId, bars);
    return { parts, bars, tags: ['ending'] };
  });
  const aside = useBarsAside(takeId, bars);
  const them = bars.count === 1 ? 'it' : 'them';
  return (
    <>
      <Button small disabled={ending.isPending} onClick={() => ending.mutate()}>
        Make an ending of {them}
      </Button>
      <Button small disabled={aside.isPending} onClick={() => aside.mutate()}>
        Set {them} aside
      </Button>
    </>
  );
}

function useBarsAside(takeId: string, bars: BarRange) {
  return useMutation({
    mutationFn: async () => {
      const { parts, fromTick, toTick } = await playedIn(takeId, bars);
      const reason = `bars ${bars.start} to ${bars.start + bars.count - 1}`;
      for (const part of parts) {
        await sendJson('POST', `/api/takes/${takeId}/moves`, {
          move: { move: 'setAside', part, reason, fromTick, toTick },
        });
      }
    },
    onError: tellProblem,
    onSettled: () => void renew('takes', 'take'),
  });
}

/** The ticks of some bars, and the parts that play in them. */
async function playedIn(takeId: string, bars: BarRange) {
  const { take, split } = await fetchSplit(takeId);
  const { timeline } = take.timing;
  // What is played a little ahead of a bar line belongs to it.
  const early = Math.round(EARLY * timeline.ppq);
  const fromTick = Math.max(0, barStart(timeline, bars.start) - early);
  const toTick = barStart(timeline, bars.start + bars.count) - early;
  const playing = new Set(
    split.owner.filter((_, i) => take.notes.tick[i]! >= fromTick && take.notes.tick[i]! < toTick),
  );
  const parts = split.parts.filter((_, part) => playing.has(part)).map(({ id }) => id);
  return { parts, fromTick, toTick };
}
