import { useRef, type PointerEvent } from 'react';
import { LONGEST_CHORD, type LaidChord, type LineChord } from '../../../core/harmonize/line.ts';
import { chordNumeral, parseSymbol } from '../../../core/music/chord.ts';
import type { Key } from '../../../core/music/key.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { usesFlats } from '../../../core/music/key.ts';
import { plural } from '../../../core/words.ts';
import { beginnings } from './changes-edit.ts';

/** So many bars stand on a row. */
const BARS_A_ROW = 4;

/** The chords over their bars, a row of four at a time: chosen by click, made longer and shorter by their right edge. */
export function ChangesLine({
  line,
  laid,
  at,
  beatsPerBar,
  keyIn,
  onChoose,
  onLength,
}: {
  line: readonly LineChord[];
  laid: readonly LaidChord[];
  at: number;
  beatsPerBar: number;
  keyIn: Key;
  onChoose: (at: number) => void;
  onLength: (at: number, beats: number) => void;
}) {
  const { from, beats } = beginnings(line);
  const rowBeats = BARS_A_ROW * beatsPerBar;
  const rows = Math.max(1, Math.ceil(beats / rowBeats));
  return (
    <div role="group" aria-label="The line of chords" className="grid gap-2">
      {Array.from({ length: rows }, (_, row) => (
        <Row
          key={row}
          {...{ row, rowBeats, beatsPerBar, line, laid, from, at, keyIn, onChoose, onLength }}
          isLast={row === rows - 1}
          end={beats}
        />
      ))}
    </div>
  );
}

function Row({
  row,
  rowBeats,
  beatsPerBar,
  line,
  laid,
  from,
  at,
  keyIn,
  end,
  isLast,
  onChoose,
  onLength,
}: {
  row: number;
  rowBeats: number;
  beatsPerBar: number;
  line: readonly LineChord[];
  laid: readonly LaidChord[];
  from: readonly number[];
  at: number;
  keyIn: Key;
  end: number;
  isLast: boolean;
  onChoose: (at: number) => void;
  onLength: (at: number, beats: number) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const first = row * rowBeats;
  const percent = (beat: number) => (100 * (beat - first)) / rowBeats;
  const drag = (k: number) => (event: PointerEvent<HTMLElement>) => {
    event.preventDefault();
    event.stopPropagation();
    onChoose(k);
    const width = box.current!.getBoundingClientRect().width;
    const [began, before] = [event.clientX, line[k]!.beats];
    const target = event.currentTarget;
    target.setPointerCapture(event.pointerId);
    const move = ({ clientX }: globalThis.PointerEvent) => {
      const beats = before + Math.round(((clientX - began) / width) * rowBeats);
      onLength(k, Math.min(LONGEST_CHORD, Math.max(1, beats)));
    };
    const stop = () => {
      target.removeEventListener('pointermove', move);
      target.removeEventListener('pointerup', stop);
      target.removeEventListener('pointercancel', stop);
    };
    target.addEventListener('pointermove', move);
    target.addEventListener('pointerup', stop);
    target.addEventListener('pointercancel', stop);
  };
  return (
    <div ref={box} className="relative h-[74px] border-y border-rule">
      {Array.from({ length: rowBeats + 1 }, (_, beat) => {
        const isBar = beat % beatsPerBar === 0;
        return (
          <span
            key={beat}
            aria-hidden="true"
            className={`absolute bottom-0 w-px ${isBar ? 'top-0 bg-thread-strong' : 'top-[62px] bg-thread'}`}
            style={{ left: `${(100 * beat) / rowBeats}%` }}
          >
            {isBar && beat < rowBeats && (
              <span className="absolute top-0.5 left-1 text-xs text-muted">
                {(first + beat) / beatsPerBar + 1}
              </span>
            )}
          </span>
        );
      })}
      {line.map((one, k) => {
        const [begin, until] = [Math.max(first, from[k]!), Math.min(first + rowBeats, from[k]! + one.beats)];
        if (until <= begin) return null;
        const chord = one.symbol === '' ? undefined : parseSymbol(one.symbol);
        const { pitches, move } = laid[k]!;
        const goesOn = begin > from[k]!;
        return (
          <div
            key={k}
            className="absolute top-[15px] h-[46px]"
            style={{ left: `${percent(begin)}%`, width: `${percent(until) - percent(begin)}%` }}
          >
            <button
              type="button"
              aria-pressed={k === at}
              title={pitches.map((pitch) => pitchName(pitch, { flats: usesFlats(keyIn) })).join(' ')}
              className={`absolute inset-x-px inset-y-0 overflow-hidden rounded-[3px] border-l-2 px-1.5 text-left ${k === at ? 'border-madder bg-select' : 'border-ink bg-card hover:bg-sunk'} ${goesOn ? 'border-dashed' : ''}`}
              onClick={() => onChoose(k)}
            >
              <span className="block truncate font-display text-lg leading-tight font-bold">
                {goesOn ? '' : one.symbol || 'N.C.'}
              </span>
              <span className="flex gap-2 truncate text-xs text-muted tabular-nums">
                <span>{chord && !goesOn ? chordNumeral(chord, keyIn) : ''}</span>
                {move !== null && !goesOn && (
                  <span title="How far its voices move to it, in semitones">moves {move}</span>
                )}
                <span className="sr-only">
                  {goesOn ? `${one.symbol} goes on` : plural(one.beats, 'beat')}
                </span>
              </span>
            </button>
            {from[k]! + one.beats <= first + rowBeats && (
              <span
                className="absolute inset-y-0 -right-1 z-10 w-2 cursor-col-resize touch-none"
                data-edge={k}
                title="Drag to make it longer or shorter"
                onPointerDown={drag(k)}
              />
            )}
          </div>
        );
      })}
      {isLast && end % beatsPerBar !== 0 && (
        <span
          className="absolute top-[30px] pl-1 text-xs text-muted"
          style={{ left: `${percent(end)}%` }}
          title="The last chord fills its bar"
        >
          held
        </span>
      )}
    </div>
  );
}
