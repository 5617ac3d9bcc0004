import equal from 'fast-deep-equal';
import { useEffect, useState } from 'react';
import { secondsOfWeave } from '../../core/exchange/weave-files.ts';
import { formOrWhy } from '../../core/weave/sections-of.ts';
import { withForm } from '../../core/weave/edit.ts';
import { WEAVE_ENDINGS, type Weave, type WeaveEnding } from '../../core/weave/weave.ts';
import { plural } from '../../core/words.ts';
import type { useHistory } from '../../ui/history/history.ts';
import { ViewLink } from '../../ui/ButtonLink.tsx';
import { clockTime } from '../../ui/time.ts';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import type { LaidSheet } from './laid.ts';
import type { Place } from './place.ts';

/** Title, form, tempo, ending; and how long it is. */
export function WeaveHead({
  id,
  history,
  laid,
  isLoading,
  onPlace,
}: {
  id: string;
  history: ReturnType<typeof useHistory<Weave>>;
  laid: LaidSheet | null;
  isLoading: boolean;
  onPlace: (place: Place) => void;
}) {
  const { value: weave, set } = history;
  const written = weave.sections
    .map(({ name }) => name)
    .join(weave.sections.some(({ name }) => /\s/.test(name)) ? ', ' : ' ');
  const [form, setForm] = useState(written);
  useEffect(() => setForm(written), [written]);
  const [problem, setProblem] = useState<string | null>(null);
  const take = () => {
    if (form.trim() === '' || form === written) return;
    const typed = formOrWhy(form, weave.meter.numerator);
    if (typeof typed === 'string') return setProblem(typed);
    const formed = withForm(weave, typed);
    set(() => formed, 'the form');
    onPlace({ section: formed.sections[0]?.id ?? null, part: null });
    setProblem(null);
  };
  const seconds = laid ? secondsOfWeave(laid) : 0;
  const isSaved = equal(weave, history.base);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
      <h1 className="max-w-64 truncate text-xl">{weave.title}</h1>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          take();
        }}
      >
        <input
          className="field h-7 w-44"
          aria-label="Form"
          title="Sections as they follow, such as A A B A, or a chart: A: Dm | A7; B: Gm | C; form: A A B A"
          value={form}
          onChange={({ target }) => setForm(target.value)}
          onBlur={take}
        />
      </form>
      <label className="flex items-center gap-1.5 text-sm">
        <span className="text-muted">ends</span>
        <select
          className="field h-7 w-36 py-0"
          value={weave.ending}
          onChange={({ target: { value } }) =>
            set((old) => ({ ...old, ending: value as WeaveEnding }), 'the ending')
          }
        >
          {WEAVE_ENDINGS.map((ending) => (
            <option key={ending} value={ending}>
              {ENDING_TITLES[ending]}
            </option>
          ))}
        </select>
      </label>
      <span className="text-sm text-muted tabular-nums" role="status">
        {isLoading
          ? 'opening its phrases'
          : laid
            ? `${plural(laid.bars, 'bar')}, ${clockTime(seconds)}, ${weave.bpm} BPM${isSaved ? '' : ', not saved yet'}`
            : ''}
      </span>
      <div className="ml-auto flex items-center gap-2">
        <ViewLink small to={`/reuse/lineage?weave=${id}`}>
          Lineage
        </ViewLink>
        <UndoButtons history={history} />
      </div>
      {problem && (
        <p className="w-full text-sm text-madder" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}

const ENDING_TITLES: Readonly<Record<WeaveEnding, string>> = {
  none: 'with its last bar',
  ring: 'and lets ring',
  stop: 'stopped short',
  slower: 'slower, then rings',
  back: 'back to the top',
};
