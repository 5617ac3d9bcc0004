import { rhythmOfClip } from '../../../core/harmonize/rhythm-of.ts';
import { STRUMS, type Strum } from '../../../core/harmonize/made-clips.ts';
import { RHYTHMS } from '../../../core/music/rhythm.ts';
import { meterAt } from '../../../core/music/timeline.ts';
import { BoundedInput } from '../../../ui/fields/BoundedInput.tsx';
import { tellProblem } from '../../api/queries.ts';
import { fetchPhrase } from '../../shared/phrases/listening.ts';
import { HELD_RHYTHM, SPREADS, type ChangesEdit } from './changes-edit.ts';

const STRUM_TITLES: Readonly<Record<Strum, string>> = {
  none: 'together',
  down: 'strummed down',
  up: 'strummed up',
  turns: 'down and up in turn',
};

/** What a step becomes when it is pressed: silent, struck, an accent, held on. */
const NEXT_MARK: Readonly<Record<string, string>> = { '.': 'x', x: 'X', X: '-', o: 'x', '-': '.' };
const MARK_WORDS: Readonly<Record<string, string>> = {
  '.': 'silent',
  x: 'struck',
  X: 'an accent',
  o: 'soft',
  '-': 'held on',
};

/** The rhythm the chords are played in: from the list, as some phrase is played, or drawn step by step; and how a stroke is spread. */
export function RhythmRow({
  edit,
  beatsPerBar,
  played,
  set,
}: {
  edit: ChangesEdit;
  beatsPerBar: number;
  /** Phrases whose rhythm can be taken. */
  played: readonly { id: string; name: string }[];
  set: (change: (now: ChangesEdit) => ChangesEdit, label: string) => void;
}) {
  const { rhythm } = edit;
  const named = Object.entries(RHYTHMS).filter(([, steps]) => steps.length === 4 * beatsPerBar);
  const take = (next: ChangesEdit['rhythm']) => set((old) => ({ ...old, rhythm: next }), 'rhythm');
  const choose = (value: string) => {
    if (value === '') return take(HELD_RHYTHM);
    const steps = RHYTHMS[value];
    if (steps) return take({ name: value, steps, perBeat: 4, beats: beatsPerBar });
    if (value === 'drawn')
      return take({
        name: 'drawn',
        steps: 'X-------x-------'.padEnd(4 * beatsPerBar, '-').slice(0, 4 * beatsPerBar),
        perBeat: 4,
        beats: beatsPerBar,
      });
    void fetchPhrase(value).then((phrase) => {
      const { steps, perBeat } = rhythmOfClip(phrase.clip);
      const { numerator } = meterAt(phrase.clip.timeline, phrase.clip.pickup);
      take({ name: `as in ${phrase.name}`, steps, perBeat, beats: numerator });
    }, tellProblem);
  };
  const press = (k: number) =>
    take({
      ...rhythm,
      name:
        rhythm.name === 'drawn' || rhythm.name.endsWith(', changed')
          ? rhythm.name
          : `${rhythm.name}, changed`,
      steps: rhythm.steps.slice(0, k) + NEXT_MARK[rhythm.steps[k]!] + rhythm.steps.slice(k + 1),
    });
  const isNamed = rhythm.steps === '' || RHYTHMS[rhythm.name] === rhythm.steps || rhythm.name === 'drawn';
  return (
    <section aria-label="Rhythm" className="flex flex-wrap items-center gap-x-3 gap-y-1.5 text-sm">
      <label className="flex items-center gap-1.5">
        <span className="text-muted">Rhythm</span>
        <select
          className="field h-7 w-44 py-0"
          value={rhythm.steps === '' ? '' : isNamed ? rhythm.name : 'other'}
          onChange={({ target: { value } }) => value !== 'other' && choose(value)}
        >
          <option value="">one stroke a chord</option>
          {named.map(([name]) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
          <option value="drawn">drawn</option>
          {!isNamed && <option value="other">{rhythm.name}</option>}
          {played.length > 0 && (
            <optgroup label="As it is played in">
              {played.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </optgroup>
          )}
        </select>
      </label>
      {rhythm.steps !== '' && (
        <div
          role="group"
          aria-label="Steps of the rhythm"
          className="flex min-h-7 min-w-0 flex-1 flex-wrap items-end"
        >
          {[...rhythm.steps].map((mark, k) => (
            <button
              key={k}
              type="button"
              aria-label={`Step ${k + 1}: ${MARK_WORDS[mark]}`}
              title={`${MARK_WORDS[mark]}: press to change`}
              className={`flex h-7 max-w-7 min-w-6 flex-1 items-end border-b border-thread-strong hover:bg-sunk ${k % rhythm.perBeat === 0 ? 'border-l border-l-thread-strong' : ''} ${k > 0 && k % (rhythm.perBeat * rhythm.beats) === 0 ? 'border-l-ink!' : ''}`}
              onClick={() => press(k)}
            >
              <Mark mark={mark} />
            </button>
          ))}
        </div>
      )}
      <label className="flex items-center gap-1.5">
        <span className="text-muted">Strokes</span>
        <select
          className="field h-7 w-40 py-0"
          value={edit.strum}
          onChange={({ target: { value } }) =>
            set(
              (old) => ({
                ...old,
                strum: value as Strum,
                spread: value === 'none' ? 0 : old.spread || SPREADS.usual,
              }),
              'strum',
            )
          }
        >
          {STRUMS.map((strum) => (
            <option key={strum} value={strum}>
              {STRUM_TITLES[strum]}
            </option>
          ))}
        </select>
      </label>
      {edit.strum !== 'none' && (
        <label className="flex items-center gap-1.5">
          <span className="text-muted">over</span>
          <BoundedInput
            label="Spread of a stroke in milliseconds"
            className="field h-7 w-16 py-0"
            value={edit.spread}
            min={SPREADS.least}
            max={SPREADS.most}
            step={1}
            onValue={(spread) => set((old) => ({ ...old, spread }), 'spread')}
          />
          <span className="text-muted">ms</span>
        </label>
      )}
    </section>
  );
}

/** A stroke stands as tall as it is loud; what is held on lies low. */
function Mark({ mark }: { mark: string }) {
  if (mark === '.') return <span className="h-px w-full" />;
  if (mark === '-') return <span className="h-1 w-full bg-ink opacity-40" />;
  const height = mark === 'X' ? 'h-6' : mark === 'o' ? 'h-2' : 'h-4';
  return (
    <span className="flex w-full items-end">
      <span className={`w-1 flex-none bg-ink ${height}`} />
      <span className="h-1 flex-1 bg-ink opacity-40" />
    </span>
  );
}
