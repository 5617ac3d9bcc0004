import { useMutation } from '@tanstack/react-query';
import { TriangleAlert } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import type { Account, AccountFinding } from '../../core/analyze/account.ts';
import { barStart } from '../../core/music/timeline.ts';
import { Button } from '../../ui/Button.tsx';
import { sendJson } from '../api/client.ts';
import { tellProblem, useRefresh } from '../api/queries.ts';
import { useCurrentProject } from '../app/project.ts';
import { fetchSplit } from './listening.ts';

/** What came, against what was asked, in one line. */
export function accountWords({ notes, channels, barsAsked, barsReceived }: Account): string {
  if (notes === 0) return 'Nothing came.';
  const bars =
    barsAsked === null
      ? `${barsReceived} ${barsReceived === 1 ? 'bar' : 'bars'}`
      : `${barsReceived} of ${barsAsked} bars`;
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
          {takeId && finding.bars && <WayOut finding={finding} takeId={takeId} bars={finding.bars} />}
        </li>
      ))}
    </ul>
  );
}

function WayOut({
  finding,
  takeId,
  bars,
}: {
  finding: AccountFinding;
  takeId: string;
  bars: { start: number; count: number };
}) {
  const isTail = finding.code === 'tail';
  const ending = useEnding(takeId, bars);
  const aside = useBarsAside(takeId, bars);
  return (
    <div className="mt-1 flex flex-wrap gap-1.5">
      {isTail && (
        <>
          <Button small disabled={ending.isPending} onClick={() => ending.mutate()}>
            Make an ending of {bars.count === 1 ? 'it' : 'them'}
          </Button>
          <Button small disabled={aside.isPending} onClick={() => aside.mutate()}>
            Set {bars.count === 1 ? 'it' : 'them'} aside
          </Button>
        </>
      )}
      <Link
        to={`/split/${takeId}?bars=${bars.start}-${bars.start + bars.count - 1}`}
        className="text-xs leading-6 underline decoration-rule underline-offset-3"
      >
        show {bars.count === 1 ? `bar ${bars.start}` : `bars ${bars.start} to ${bars.start + bars.count - 1}`}
      </Link>
    </div>
  );
}

/** The bars beyond what was asked, as phrases that are tagged as an ending. */
function useEnding(takeId: string, bars: { start: number; count: number }) {
  const navigate = useNavigate();
  const renew = useRefresh();
  const project = useCurrentProject();
  return useMutation({
    mutationFn: async () =>
      sendJson<{ phraseIds: string[] }>('POST', '/api/phrases', {
        takeId,
        parts: await partsIn(takeId, bars),
        startBar: bars.start,
        bars: bars.count,
        projectId: project?.id ?? null,
        tags: ['ending'],
      }),
    onError: tellProblem,
    onSuccess: async ({ phraseIds }) => {
      await renew('drafts', 'takes', 'take');
      void navigate(`/normalize/${phraseIds[0]}`);
    },
  });
}

function useBarsAside(takeId: string, bars: { start: number; count: number }) {
  const renew = useRefresh();
  return useMutation({
    mutationFn: async () => {
      const { fromTick, toTick } = await ticksOf(takeId, bars);
      for (const part of await partsIn(takeId, bars)) {
        const reason = `bars ${bars.start} to ${bars.start + bars.count - 1}`;
        await sendJson('POST', `/api/takes/${takeId}/moves`, {
          move: { move: 'setAside', part, reason, fromTick, toTick },
        });
      }
    },
    onError: tellProblem,
    onSettled: () => void renew('takes', 'take'),
  });
}

/** Parts that play in some bars. */
async function partsIn(takeId: string, bars: { start: number; count: number }): Promise<string[]> {
  const { take, split } = await fetchSplit(takeId);
  const { fromTick, toTick } = await ticksOf(takeId, bars);
  return split.parts
    .filter((_, part) =>
      split.owner.some(
        (owner, i) => owner === part && take.notes.tick[i]! >= fromTick && take.notes.tick[i]! < toTick,
      ),
    )
    .map(({ id }) => id);
}

async function ticksOf(takeId: string, bars: { start: number; count: number }) {
  const { take } = await fetchSplit(takeId);
  const { timeline } = take.timing;
  // What is played a little ahead of a bar line belongs to it.
  const early = Math.round(timeline.ppq / 8);
  return {
    fromTick: Math.max(0, barStart(timeline, bars.start) - early),
    toTick: barStart(timeline, bars.start + bars.count) - early,
  };
}
