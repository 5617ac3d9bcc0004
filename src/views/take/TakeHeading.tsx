import type { Analysis } from '../../core/analyze/analysis.ts';
import { scaled } from '../../core/capture/retime.ts';
import type { Take } from '../../core/capture/take.ts';
import { keyName, parseKey, sameKey, type Key } from '../../core/music/key.ts';
import { bpmOf, roundedBpm, tempoAt } from '../../core/music/timeline.ts';
import { certaintyWords, plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { KeyOptions } from '../../ui/fields/KeyOptions.tsx';
import { RenameField } from '../../ui/fields/RenameField.tsx';
import type { TakeWire } from '../api/queries.ts';
import type { SplitEditing } from '../shared/takes/editing.ts';
import { MeterMenu } from './lines/MeterMenu.tsx';

/** Name, source, key with its runner-up, tempo and meter. */
export function TakeHeading({
  row,
  take,
  chosen,
  move,
  spans,
  pickup,
  retimed,
  startBar,
}: {
  row: TakeWire;
  take: Take;
  chosen: Key | null;
  move: SplitEditing['move'];
  /** The bar that a pickup leads into, and its beats; null where there is none. */
  pickup: { into: number; beats: number } | null;
  /** Where the key changes. */
  spans: Analysis['keySpans'];
  /** Whether it stands on other bars than it was captured on. */
  retimed: boolean;
  /** First of the chosen bars; null where none are. */
  startBar: number | null;
}) {
  const { timeline, tempos } = take.timing;
  const bpm = bpmOf(tempoAt(timeline, 0).microseconds);
  const certainty = (key: Key) => {
    const found = row.keys.find((finding) => sameKey(finding, key));
    return found ? certaintyWords(found.certainty) : '';
  };
  const other = row.keys.find((finding) => !chosen || !sameKey(finding, chosen));
  const asked = tempos.length === 0 ? ' (assumed: the file gives none)' : '';
  return (
    <div className="flex flex-wrap items-baseline gap-x-4">
      <h1 className="min-w-40 flex-1 text-xl">
        <RenameField
          label="Name of the take"
          value={row.name}
          onRename={(name) => move({ move: 'nameTake', name })}
        />
      </h1>
      <span className="text-sm text-muted">{[row.source, row.contributor].filter(Boolean).join(', ')}</span>
      <span className="flex flex-wrap items-baseline gap-x-3 text-sm whitespace-nowrap">
        <span>
          <select
            aria-label="Key of the take"
            className="max-w-30 rounded-[3px] bg-transparent font-bold hover:bg-sunk"
            value={chosen ? keyName(chosen) : ''}
            onChange={({ target: { value } }) => {
              const picked = parseKey(value);
              if (picked) move({ move: 'chooseKey', key: picked });
            }}
          >
            <KeyOptions none="no key" />
          </select>{' '}
          <span className="text-muted">{row.chosenKey ? 'by hand' : chosen ? certainty(chosen) : ''}</span>
        </span>
        {other && (
          <button
            type="button"
            className="text-muted underline decoration-rule underline-offset-3 hover:text-ink"
            title="Take this key instead"
            onClick={() => move({ move: 'chooseKey', key: { tonic: other.tonic, mode: other.mode } })}
          >
            or {keyName(other)} {other.certainty.toFixed(2)}
          </button>
        )}
        {spans.length > 1 && (
          <span
            className="text-muted"
            title={spans.map((span) => `${keyName(span)} from bar ${span.startBar}`).join(', ')}
          >
            {spans.length} keys
          </span>
        )}
        <span title={`Tempo${asked}`}>
          {roundedBpm(bpm)}
          {timeline.tempos.length > 1 && '…'} BPM{asked && '?'}
        </span>
        <span className="flex gap-1" role="group" aria-label="Time">
          {([0.5, 2] as const).map((factor) => {
            const [title, sign] = factor > 1 ? ['double time', '×2'] : ['half time', '÷2'];
            return (
              <Button
                key={factor}
                small
                title={`Written in ${title}: ${Math.round(bpm * factor)} BPM, and ${factor > 1 ? 'twice' : 'half'} the bars`}
                aria-label={`${sign}, ${title}`}
                disabled={take.file.division.kind !== 'metrical'}
                onClick={() => move({ move: 'retime', how: title, ...scaled(factor) })}
              >
                {sign}
              </Button>
            );
          })}
          {retimed && (
            <Button
              small
              title="The bars and the tempo it was captured in"
              onClick={() => move({ move: 'asCaptured' })}
            >
              as captured
            </Button>
          )}
        </span>
        {pickup && (
          <span
            className="text-muted"
            title={`${plural(pickup.beats, 'beat')} lead into bar ${pickup.into}. Phrases that begin with that bar bring it along, in a bar of its own`}
          >
            pickup into bar {pickup.into}
          </span>
        )}
        <MeterMenu take={take} startBar={startBar} move={move} />
      </span>
    </div>
  );
}
