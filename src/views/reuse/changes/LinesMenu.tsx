import { lineOfChanges, onBeats, type LineChord } from '../../../core/harmonize/line.ts';
import { ownLines } from '../../../core/harmonize/own-lines.ts';
import { intervalBetween, keyName, type Key } from '../../../core/music/key.ts';
import { movedChord } from '../../../core/music/chord.ts';
import { writtenChanges } from '../../../core/reuse/child.ts';
import { readOrWhy, type Changes, type WrittenChanges } from '../../../core/through/sounding.ts';
import { useHarmony, useKeptChanges } from '../../api/queries.ts';
import { useCurrentProject } from '../../shared/project.ts';

/** Of the library's own lines of one length, so many are shown. */
const MOST_OF_A_LENGTH = 12;

/** What a line can begin with: the project's chart, kept changes, the library's own lines by their length; in the key that is chosen. */
export function LinesMenu({
  keyIn,
  beatsPerBar,
  onLine,
}: {
  keyIn: Key;
  beatsPerBar: number;
  onLine: (line: LineChord[], label: string, inKey?: string) => void;
}) {
  const project = useCurrentProject();
  const { data: kept = [] } = useKeptChanges();
  const { data: harmony } = useHarmony();
  const own = harmony ? ownLines(harmony.lines, keyIn, beatsPerBar) : [];
  const lengths = [...new Set(own.map(({ line }) => line.length))].sort((a, b) => a - b);
  const begin = (written: WrittenChanges, beats: number, label: string, from: Key | null) => {
    const read = readOrWhy(written, beats);
    if (typeof read === 'string') return;
    // What was kept in major stays in major, on the tonic that is chosen.
    const to = from ? { tonic: keyIn.tonic, mode: from.mode } : keyIn;
    const line = onBeats(lineOfChanges(from ? inOtherKey(read, from, to) : read, to));
    onLine(line, label, to.mode === keyIn.mode ? undefined : keyName(to));
  };
  const choose = (value: string) => {
    if (value === 'project')
      return begin(project!.chords, project!.meterNumerator, "the project's chart", null);
    const one = kept.find(({ id }) => id === value);
    if (one)
      return begin(writtenChanges(one.chords, one.meterNumerator), one.meterNumerator, one.name, {
        tonic: one.keyTonic,
        mode: one.keyMode,
      });
    const line = own[Number(value.slice('own '.length))];
    if (line) onLine(line.line, line.numerals.join(' '));
  };
  return (
    <select
      className="field h-7 w-44 py-0 text-sm"
      aria-label="Begin with"
      value=""
      onChange={({ target: { value } }) => choose(value)}
    >
      <option value="">Begin with ...</option>
      {project?.chords && <option value="project">{project.name}: its chart</option>}
      {kept.length > 0 && (
        <optgroup label={`Kept changes, in ${keyName(keyIn)}`}>
          {kept.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </optgroup>
      )}
      {lengths.map((length) => (
        <optgroup key={length} label={`The library's own, ${length} chords`}>
          {own
            .map((one, at) => ({ ...one, at }))
            .filter(({ line }) => line.length === length)
            .slice(0, MOST_OF_A_LENGTH)
            .map(({ numerals, count, line, at }) => (
              <option key={at} value={`own ${at}`}>
                {line.map(({ symbol }) => symbol).join(' ')} ({numerals.join(' ')}, {count})
              </option>
            ))}
        </optgroup>
      ))}
    </select>
  );
}

/** The same changes a way up or down. */
function inOtherKey(changes: Changes, from: Key, to: Key): Changes {
  const by = intervalBetween(from.tonic, to.tonic);
  return {
    ...changes,
    chords: changes.chords.map((one) => ({ ...one, chord: one.chord && movedChord(one.chord, by) })),
  };
}
