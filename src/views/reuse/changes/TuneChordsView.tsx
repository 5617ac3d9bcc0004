import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { useQueries, useQuery } from '@tanstack/react-query';
import { Fragment, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { BASS_TITLES, BASS_WAYS } from '../../../core/harmonize/bass.ts';
import { changesForTune, chartOf, otherKeys } from '../../../core/harmonize/for-tune.ts';
import { bassClip, chordsClip } from '../../../core/harmonize/made-clips.ts';
import { kicksOf } from '../../../core/harmonize/rhythm-of.ts';
import { countedMoves } from '../../../core/analyze/progressions.ts';
import { keyLabel, keyName, parseKey, type Key } from '../../../core/music/key.ts';
import { barsUntil } from '../../../core/music/timeline.ts';
import { setResolution } from '../../../core/normalize/resolution.ts';
import { readOrWhy } from '../../../core/through/sounding.ts';
import { bpmOfClip, isPitched, type Clip } from '../../../core/phrase/clip.ts';
import { toggleListening, type Listening } from '../../../sound/player.ts';
import { useActions } from '../../../ui/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { Busy, EmptyState } from '../../../ui/EmptyState.tsx';
import { useHistory } from '../../../ui/history/history.ts';
import { phraseQuery, useHarmony, usePhraseNames, type PhraseWire } from '../../api/queries.ts';
import { heardClip } from '../../shared/phrases/listening.ts';
import { ListenButton } from '../../shared/listening/ListenButton.tsx';
import { useOffered } from '../../shared/leaving/offered.ts';
import { useCurrentProject } from '../../shared/project.ts';
import { barLinesWithBeats } from '../../shared/takes/strand-columns.ts';
import { AccompanyList, useAccompaniments } from './AccompanyList.tsx';
import { useKeep, useKeepMade, type MadePartClip } from '../keep.ts';
import { takenThrough, type ThroughEdit } from '../through/through-edit.ts';
import { ThroughStrand } from '../through/ThroughStrand.tsx';
import { SlotChoices, ThreeSets, type TuneEdit } from './TuneSets.tsx';
import { ReuseHeading } from '../ReuseHeading.tsx';
import { GoToLibrary } from '../../shared/GoToLibrary.tsx';

/** Chords and a bass for a tune: three sets side by side, taken bar by bar, heard under the tune, kept. */
export default function TuneChordsView() {
  const [params] = useSearchParams();
  const id = params.get('of') ?? '';
  const { data: phrase, error } = useQuery({ ...phraseQuery(id), enabled: id !== '' });
  if (error) return <EmptyState title="This phrase could not be opened">{error.message}</EmptyState>;
  if (!phrase) return <Busy what="Opening the tune" />;
  if (!isPitched(phrase.clip))
    return (
      <EmptyState title="Drums carry no tune" action={<GoToLibrary />}>
        Choose a phrase that has pitches.
      </EmptyState>
    );
  return <OpenTune key={id} phrase={phrase} />;
}

const C_MAJOR: Key = { tonic: 0, mode: 'major' };

const NOTHING_CHOSEN: TuneEdit = {
  ...{ key: '', chosen: {}, set: 'plain', bass: 'roots' },
  ...{ groove: '', accompany: [] },
};

function OpenTune({ phrase }: { phrase: PhraseWire }) {
  const tune = useMemo(() => heardClip(phrase.clip, phrase), [phrase]);
  const history = useHistory<TuneEdit>(
    `chords for ${phrase.id}`,
    useMemo(() => NOTHING_CHOSEN, []),
    `/reuse/chords?of=${phrase.id}`,
  );
  const { value: edit, set } = history;
  const own = tune.key ?? C_MAJOR;
  const key = (edit.key && parseKey(edit.key)) || own;
  const { data: harmony } = useHarmony();
  const moves = useMemo(() => countedMoves(harmony?.lines ?? []), [harmony]);
  const found = useMemo(
    () => changesForTune(tune, { tonic: key.tonic, mode: key.mode }, moves),
    [tune, key.tonic, key.mode, moves],
  );
  const slots = found.sets[edit.set];
  const symbols = slots.map(({ symbol }, at) => edit.chosen[at] ?? symbol);
  const chart = chartOf(slots.map((slot, at) => ({ bar: slot.bar, symbol: symbols[at]! })));
  const { data: grooves = [] } = usePhraseNames('role=drums');
  const { data: groove } = useQuery({ ...phraseQuery(edit.groove), enabled: edit.groove !== '' });
  const made = useMemo(
    () => madeOf(tune, chart, { tonic: key.tonic, mode: key.mode }, edit.bass, groove?.clip),
    [tune, chart, key.tonic, key.mode, edit.bass, groove],
  );
  const { data: accompaniments = [], isPending } = useAccompaniments(phrase.id);
  const under = useAccompanying(edit.accompany, chart, key);
  const [at, setAt] = useState(0);
  const listening = useMemo(
    (): Listening => ({
      id: `chords for ${phrase.id}`,
      title: `Chords for ${phrase.name}`,
      subtitle: chart,
      lanes: [
        { id: phrase.id, clip: tune },
        ...made.map(({ name, clip }) => ({ id: name, clip, level: 0.8 })),
        ...under.taken.map(({ phrase: { id }, result }) => ({ id, clip: result.clip, level: 0.8 })),
      ],
    }),
    [phrase.id, phrase.name, chart, tune, made, under.taken],
  );
  const isPlaying = useOffered(listening);
  const project = useCurrentProject();
  const keepMade = useKeepMade(phrase, made, { chart, key, projectId: project?.id ?? null });
  const keepUnder = useKeep(under.phrases, under.edit, under.taken, project?.id ?? null);
  const keep = () => {
    keepMade();
    keepUnder();
  };
  const accompany = (ids: readonly string[]) =>
    set((old) => ({ ...old, accompany: ids }), ids.length === 0 ? 'no accompaniment' : 'accompaniment');
  const nextUnder = (by: number) => {
    const now = accompaniments.findIndex(({ phrases }) => phrases[0]!.id === edit.accompany[0]);
    const next = accompaniments[Math.min(accompaniments.length - 1, now + by)];
    accompany(now + by < 0 || !next ? [] : next.phrases.map(({ id }) => id));
  };
  const put = (slot: number, symbol: string) =>
    set((old) => ({ ...old, chosen: { ...old.chosen, [slot]: symbol } }), `chord of bar ${slots[slot]!.bar}`);
  useActions('Chords for a tune', [
    { title: 'Listen, or stop', keys: [' '], run: () => void toggleListening(listening) },
    { title: 'The bar before', keys: ['ArrowLeft'], run: () => setAt(Math.max(0, at - 1)) },
    { title: 'The next bar', keys: ['ArrowRight'], run: () => setAt(Math.min(slots.length - 1, at + 1)) },
    ...[1, 2, 3].map((choice) => ({
      title: `Choice ${choice} for this bar`,
      keys: [String(choice)],
      run: () => slots[at]?.next[choice - 1] && put(at, slots[at].next[choice - 1]!),
    })),
    { title: 'The next accompaniment', keys: ['ArrowDown'], run: () => nextUnder(1) },
    { title: 'The accompaniment before', keys: ['ArrowUp'], run: () => nextUnder(-1) },
    { title: 'Keep the chords and the bass', keys: ['Ctrl+s'], run: keep },
  ]);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-3 pb-4">
        <ReuseHeading title={phrase.name} what="chords for a tune" history={history} />
        <ThreeSets
          found={found}
          edit={edit}
          symbols={symbols}
          at={at}
          onSet={(name) => set((old) => ({ ...old, set: name, chosen: {} }), `the ${name} set`)}
          onSlot={setAt}
          onPut={put}
        />
        <SlotChoices
          key={at}
          slot={slots[at]!}
          symbol={symbols[at]!}
          keyIn={key}
          onPut={(symbol) => put(at, symbol)}
        />
        <Sounding
          tune={tune}
          made={[...made, ...under.taken.map(({ phrase: { name }, result: { clip } }) => ({ name, clip }))]}
          isPlaying={isPlaying}
        />
        <div className="mt-auto flex items-center gap-3 text-sm">
          <ListenButton listening={listening} isPlaying={isPlaying} />
          <code className="truncate text-base">{chart}</code>
        </div>
      </div>
      <aside className="flex w-[300px] flex-none flex-col border-l border-rule">
        <div className="grid min-h-0 flex-1 content-start gap-4 overflow-auto p-4">
          <SelectField
            label="In the key of"
            value={edit.key}
            onChange={(value) => set((old) => ({ ...old, key: value, chosen: {} }), 'key')}
          >
            <option value="">{keyName(own)}</option>
            {otherKeys(own).map((name) => (
              <option key={name} value={name}>
                {name}, with the same notes
              </option>
            ))}
          </SelectField>
          <SelectField
            label="Bass"
            value={edit.bass}
            onChange={(value) => set((old) => ({ ...old, bass: value as TuneEdit['bass'] }), 'bass')}
          >
            <option value="none">none</option>
            {BASS_WAYS.filter((way) => way !== 'kick' || grooves.length > 0).map((way) => (
              <option key={way} value={way}>
                {BASS_TITLES[way]}
              </option>
            ))}
          </SelectField>
          {edit.bass === 'kick' && (
            <SelectField
              label="The kick of"
              value={edit.groove}
              onChange={(value) => set((old) => ({ ...old, groove: value }), 'groove')}
            >
              <option value="">choose a groove</option>
              {grooves.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </SelectField>
          )}
          <AccompanyList
            items={accompaniments}
            isPending={isPending}
            chosen={edit.accompany}
            onChoose={accompany}
          />
          <p className="text-sm text-muted">
            Left and right go from bar to bar, 1 to 3 take what else would do there; up and down go through
            the accompaniments.
          </p>
        </div>
        <div className="grid gap-2 border-t border-rule p-4">
          <p className="text-sm text-muted">
            The tune stays as it is; what sounds with it is kept as children.
          </p>
          <Button kind="primary" className="h-9" onClick={keep}>
            {keptWords(made.length, edit.accompany.length)}
          </Button>
        </div>
      </aside>
    </>
  );
}

function keptWords(made: number, under: number): string {
  if (under > 0) return 'Keep what sounds with it';
  return made > 1 ? 'Keep the chords and the bass' : 'Keep the chords';
}

/** Phrases taken through the tune's chords. */
function useAccompanying(ids: readonly string[], chart: string, key: Key) {
  const found = useQueries({ queries: ids.map((id) => phraseQuery(id)) });
  const loaded = found.flatMap(({ data }) => data ?? []);
  const names = loaded.map(({ id }) => id).join();
  return useMemo(
    () => {
      const edit: ThroughEdit = { from: null, to: chart, key: keyLabel(key), parts: {} };
      return { phrases: loaded, edit, taken: loaded.map((one) => takenThrough(one, edit, key)) };
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- phrases are told by their ids, the key by its values
    [names, chart, key.tonic, key.mode],
  );
}

/** The tune, its chords and its bass under the bars of the sets. */
function Sounding({
  tune,
  made,
  isPlaying,
}: {
  tune: Clip;
  made: readonly { name: string; clip: Clip }[];
  isPlaying: boolean;
}) {
  const bars = useMemo(
    () => barLinesWithBeats(tune.timeline, Math.max(1, barsUntil(tune.timeline, tune.length))),
    [tune],
  );
  return (
    <div className="grid min-h-44 flex-1 auto-rows-fr grid-cols-[96px_1fr] gap-y-1">
      {[{ name: 'Tune', clip: tune }, ...made].map(({ name, clip }) => {
        // All in the tune's ticks: one line of bars stands over them.
        const counted = setResolution(clip, { ppq: tune.timeline.ppq }).clip;
        return (
          <Fragment key={name}>
            <span className="self-center text-sm text-muted">{name}</span>
            <div className="flex min-h-12">
              <ThroughStrand
                hollow={{ ...counted, notes: [] }}
                solid={counted}
                outside={NONE}
                chosen={undefined}
                bars={bars}
                isPlaying={isPlaying}
                onChoose={() => {}}
              />
            </div>
          </Fragment>
        );
      })}
    </div>
  );
}

const NONE: ReadonlySet<number> = new Set();

/** Chords and bass as they are heard and kept; none where the chart cannot be read. */
function madeOf(
  tune: Clip,
  chart: string,
  key: Key,
  bass: TuneEdit['bass'],
  groove: Clip | undefined,
): MadePartClip[] {
  const [meter] = tune.timeline.meters;
  const changes = readOrWhy(chart, meter!.numerator);
  if (typeof changes === 'string') return [];
  const setting = { key, bpm: bpmOfClip(tune), meter: meter! };
  const kicks = groove ? kicksOf(groove, changes.bars) : [];
  // Until a groove is chosen, the roots are held.
  const way = bass === 'kick' && kicks.length === 0 ? 'roots' : bass;
  return [
    { name: 'Keys', role: 'keys', clip: chordsClip(changes, setting) },
    ...(way === 'none'
      ? []
      : [{ name: 'Bass', role: 'bass' as const, clip: bassClip(changes, { ...setting, way, kicks }) }]),
  ];
}
