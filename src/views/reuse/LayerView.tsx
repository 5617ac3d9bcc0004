import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import type { LayerParams } from '../../core/normalize/layer.ts';
import { applyRecipe, type RecipeStep } from '../../core/normalize/recipe.ts';
import { barsUntil } from '../../core/music/timeline.ts';
import { isPitched } from '../../core/phrase/clip.ts';
import { toggleListening, type Listening } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHistory } from '../../ui/history/history.ts';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { ProgramOptions } from '../../ui/fields/ProgramOptions.tsx';
import { phraseQuery, type PhraseWire } from '../api/queries.ts';
import { heardClip } from '../shared/phrases/listening.ts';
import { ListenButton } from '../shared/listening/ListenButton.tsx';
import { useOffered } from '../shared/leaving/offered.ts';
import { useCurrentProject } from '../shared/project.ts';
import { barLinesWithBeats } from '../shared/takes/strand-columns.ts';
import { useKeepLayer } from './keep.ts';
import { ThroughStrand } from './through/ThroughStrand.tsx';
import { ReuseHeading } from './ReuseHeading.tsx';

/** A layer of a phrase: the same notes in another sound, octave and level, bound to it. */
export default function LayerView() {
  const [params] = useSearchParams();
  const id = params.get('of') ?? '';
  const { data: phrase, error } = useQuery({ ...phraseQuery(id), enabled: id !== '' });
  if (error) return <EmptyState title="This phrase could not be opened">{error.message}</EmptyState>;
  if (!phrase) return <Busy what="Opening the phrase" />;
  return <OpenLayer key={id} phrase={phrase} />;
}

/** What a layer begins as: an octave up, softer, a little late (common practice). */
const FIRST: LayerParams = { octave: 1, level: 0.7, lateMs: 10, density: 0 };

const NONE: ReadonlySet<number> = new Set();

function OpenLayer({ phrase }: { phrase: PhraseWire }) {
  const history = useHistory<LayerParams>(
    `layer of ${phrase.id}`,
    useMemo(() => (isPitched(phrase.clip) ? FIRST : { ...FIRST, octave: 0 }), [phrase.clip]),
    `/reuse/layer?of=${phrase.id}`,
  );
  const { value: edit, set } = history;
  const step = useMemo((): RecipeStep => ({ step: 'layer', ...edit }), [edit]);
  const result = useMemo(() => applyRecipe(phrase.clip, { version: 1, steps: [step] }), [phrase.clip, step]);
  const listening = useMemo(
    (): Listening => ({
      id: `layer of ${phrase.id}`,
      title: phrase.name,
      subtitle: 'with its layer',
      lanes: [
        { id: phrase.id, clip: heardClip(phrase.clip, phrase) },
        { id: 'layer', clip: heardClip(result.clip, phrase) },
      ],
    }),
    [phrase, result],
  );
  const isPlaying = useOffered(listening);
  const project = useCurrentProject();
  const keep = useKeepLayer(phrase, step, project?.id ?? null);
  const change = (part: LayerParams, label: string) => set((old) => ({ ...old, ...part }), label);
  useActions('A layer', [
    { title: 'Listen, or stop', keys: [' '], run: () => void toggleListening(listening) },
    { title: 'Keep the layer', keys: ['Ctrl+s'], run: keep },
  ]);
  const bars = useMemo(
    () =>
      barLinesWithBeats(
        phrase.clip.timeline,
        Math.max(1, barsUntil(phrase.clip.timeline, phrase.clip.length)),
      ),
    [phrase.clip],
  );
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-3 pb-4">
        <ReuseHeading title={phrase.name} what="a layer of it" history={history} />
        <div className="flex min-h-44 flex-1">
          <ThroughStrand
            hollow={phrase.clip}
            solid={result.clip}
            outside={NONE}
            chosen={undefined}
            bars={bars}
            isPlaying={isPlaying}
            onChoose={() => {}}
          />
        </div>
        <div className="flex items-center gap-3 text-sm">
          <ListenButton listening={listening} isPlaying={isPlaying} />
          <span className="text-muted">Hollow: the phrase. Solid: its layer. Both are heard together.</span>
        </div>
      </div>
      <aside className="flex w-[300px] flex-none flex-col border-l border-rule">
        <section aria-label="The layer" className="grid min-h-0 flex-1 content-start gap-3 overflow-auto p-4">
          <SelectField
            label="Its sound"
            value={edit.program === undefined ? '' : edit.program - 1}
            disabled={!isPitched(phrase.clip)}
            onChange={(value) =>
              set((old) => {
                const { program: _program, ...rest } = old;
                return value === '' ? rest : { ...rest, program: Number(value) + 1 };
              }, 'sound')
            }
          >
            <option value="">the phrase's own</option>
            <ProgramOptions />
          </SelectField>
          <div className="grid grid-cols-2 gap-3">
            {isPitched(phrase.clip) && (
              <NumberField
                label="Octaves up"
                value={edit.octave ?? 0}
                min={-3}
                max={3}
                onChange={(octave) => change({ octave }, 'octave')}
              />
            )}
            <NumberField
              label="Level, %"
              value={Math.round(100 * (edit.level ?? 1))}
              min={5}
              max={200}
              onChange={(level) => change({ level: level / 100 }, 'level')}
            />
            <NumberField
              label="Late, ms"
              value={edit.lateMs ?? 0}
              min={0}
              max={500}
              onChange={(lateMs) => change({ lateMs }, 'late')}
            />
            <NumberField
              label="Calmer, busier"
              value={edit.density ?? 0}
              min={-3}
              max={3}
              onChange={(density) => change({ density }, 'density')}
            />
            <NumberField
              label="Pan: 0 left, 127 right"
              value={edit.pan ?? null}
              min={0}
              max={127}
              empty="as it is"
              onChange={(pan) =>
                set((old) => {
                  const { pan: _pan, ...rest } = old;
                  return pan === null ? rest : { ...rest, pan };
                }, 'pan')
              }
            />
          </div>
          <p className="border-t border-rule pt-2 text-sm text-muted">{result.reports[0]!.summary}</p>
        </section>
        <div className="grid gap-2 border-t border-rule p-4">
          <p className="text-sm text-muted">
            A layer is bound to its phrase: it follows each edit of it, and leaves as a file of its own.
          </p>
          <Button kind="primary" className="h-9" onClick={keep}>
            Keep the layer
          </Button>
        </div>
      </aside>
    </>
  );
}
