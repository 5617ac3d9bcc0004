import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { useEffect, useMemo, useState } from 'react';
import { alsoWorks, trayOf } from '../../../core/harmonize/tray.ts';
import {
  inversionsOf,
  layLine,
  LONGEST_CHORD,
  type LaidChord,
  type LineChord,
} from '../../../core/harmonize/line.ts';
import { chordNumeral, chordSymbol, parseSymbol, type ChordName } from '../../../core/music/chord.ts';
import { usesFlats, type Key } from '../../../core/music/key.ts';
import { pitchClassName, pitchName } from '../../../core/music/pitch.ts';
import { Button } from '../../../ui/Button.tsx';
import { Labeled } from '../../../ui/fields/Labeled.tsx';
import { NumberField } from '../../../ui/fields/NumberField.tsx';

const INVERSIONS = ['root position', 'first inversion', 'second inversion', 'third inversion'] as const;

/** Also at most. */
const MOST_ALSO = 8;

/** The chosen chord: what it is, how long, how its voices lie, and what also works in its place. */
export function ChordBox({
  one,
  laid,
  keyIn,
  line,
  at,
  onEdit,
  onOctaves,
  onRemove,
}: {
  one: LineChord;
  laid: LaidChord;
  keyIn: Key;
  line: readonly LineChord[];
  at: number;
  onEdit: (change: Partial<LineChord>, label: string) => void;
  onOctaves: (by: number) => void;
  onRemove: () => void;
}) {
  const chord = one.symbol === '' ? undefined : parseSymbol(one.symbol);
  const also = useMemo(() => {
    const read = one.symbol === '' ? undefined : parseSymbol(one.symbol);
    return read ? alsoWorks(read, trayOf(keyIn)).slice(0, MOST_ALSO) : [];
  }, [one.symbol, keyIn]);
  const leaps = useMemo(
    () =>
      Array.from({ length: inversionsOf(one.symbol) }, (_, inversion) => {
        const other = layLine(line.map((each, k) => (k === at ? { ...each, inversion } : each)));
        return other[at]!.move;
      }),
    [line, at, one.symbol],
  );
  return (
    <section aria-label="The chosen chord" className="grid gap-3">
      <SymbolField
        one={one}
        keyIn={keyIn}
        onSymbol={(symbol) => onEdit({ symbol, inversion: null }, 'chord')}
      />
      <p className="text-sm text-muted">
        {chord
          ? `${chordNumeral(chord, keyIn)}: ${laid.pitches.map((pitch) => pitchName(pitch, { flats: usesFlats(keyIn) })).join(' ')}`
          : 'Nothing sounds here.'}
      </p>
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="Beats"
          value={one.beats}
          min={1}
          max={LONGEST_CHORD}
          onChange={(beats) => onEdit({ beats }, 'length')}
        />
        {chord && (
          <SelectField
            label="Over the bass"
            value={chord.bass}
            onChange={(value) =>
              onEdit({ symbol: overBass(chord, Number(value), keyIn), inversion: null }, 'bass')
            }
          >
            {Array.from({ length: 12 }, (_, pc) => (
              <option key={pc} value={pc}>
                {pitchClassName(pc, usesFlats(keyIn))}
                {pc === chord.root ? ', its root' : ''}
              </option>
            ))}
          </SelectField>
        )}
      </div>
      {chord && (
        <>
          <SelectField
            label="Its voices"
            value={one.inversion ?? ''}
            onChange={(value) => onEdit({ inversion: value === '' ? null : Number(value) }, 'inversion')}
          >
            <option value="">least movement</option>
            {leaps.map((move, inversion) => (
              <option key={inversion} value={inversion}>
                {INVERSIONS[inversion]}
                {move === null ? '' : `, moves ${move}`}
              </option>
            ))}
          </SelectField>
          <div className="flex items-end gap-2">
            <NumberField
              label="Octaves up"
              value={one.octave}
              min={-2}
              max={2}
              onChange={(octave) => onEdit({ octave }, 'octave')}
            />
            <Button small onClick={() => onOctaves(-1)} title="All chords an octave down">
              all down
            </Button>
            <Button small onClick={() => onOctaves(1)} title="All chords an octave up">
              all up
            </Button>
          </div>
        </>
      )}
      {also.length > 0 && (
        <div>
          <h3 className="label mb-1">Also works here</h3>
          <div className="flex flex-wrap gap-1">
            {also.map(({ symbol, borrowed }) => (
              <Button
                small
                key={symbol}
                title={borrowed ? `borrowed: ${borrowed}` : 'two notes or more in common'}
                onClick={() => onEdit({ symbol, inversion: null }, 'chord')}
              >
                {symbol}
              </Button>
            ))}
          </div>
        </div>
      )}
      <div className="flex gap-2">
        <Button small onClick={() => onEdit({ symbol: '' }, 'silence')} disabled={one.symbol === ''}>
          Nothing here
        </Button>
        <Button small onClick={onRemove}>
          Take it out
        </Button>
      </div>
    </section>
  );
}

function overBass(chord: ChordName, bass: number, key: Key): string {
  return chordSymbol({ ...chord, bass }, key);
}

/** A chord by its symbol; taken with Enter, or when the field is left. */
function SymbolField({
  one,
  keyIn,
  onSymbol,
}: {
  one: LineChord;
  keyIn: Key;
  onSymbol: (symbol: string) => void;
}) {
  const [text, setText] = useState(one.symbol);
  useEffect(() => setText(one.symbol), [one.symbol]);
  const read = parseSymbol(text);
  const take = () => read && text !== one.symbol && onSymbol(chordSymbol(read, keyIn));
  return (
    <Labeled label="The chord">
      {(id) => (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            take();
          }}
        >
          <input
            id={id}
            className="field w-full font-display text-lg font-bold"
            spellCheck={false}
            value={text}
            placeholder="N.C."
            aria-invalid={text !== '' && !read}
            onChange={({ target }) => setText(target.value)}
            onBlur={take}
          />
          {text !== '' && !read && (
            <p className="mt-1 text-sm text-madder" role="alert">
              This is not a chord symbol that is understood.
            </p>
          )}
        </form>
      )}
    </Labeled>
  );
}
