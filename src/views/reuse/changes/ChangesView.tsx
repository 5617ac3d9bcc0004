import { useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { countedMoves } from '../../../core/analyze/progressions.ts';
import {
  changesOfLine,
  layLine,
  lineOfChanges,
  onBeats,
  writtenLine,
  type LineChord,
} from '../../../core/harmonize/line.ts';
import { lineClip } from '../../../core/harmonize/made-clips.ts';
import type { TrayChord } from '../../../core/harmonize/tray.ts';
import { keyName, parseKey, type Key } from '../../../core/music/key.ts';
import { writtenChanges } from '../../../core/reuse/child.ts';
import { keyOfProject } from '../../../core/reuse/in-project.ts';
import { readOrWhy } from '../../../core/through/sounding.ts';
import { plural } from '../../../core/words.ts';
import { setStandIn, useStandIns } from '../../../devices/stand-ins.ts';
import { toggleListening, type Listening } from '../../../sound/player.ts';
import { useActions } from '../../../ui/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { Busy } from '../../../ui/EmptyState.tsx';
import { useHistory } from '../../../ui/history/history.ts';
import { KeyOptions } from '../../../ui/fields/KeyOptions.tsx';
import { UndoButtons } from '../../../ui/history/UndoButtons.tsx';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import {
  tellProblem,
  useHarmony,
  useKeptChanges,
  usePhraseNames,
  type ProjectWire,
} from '../../api/queries.ts';
import { ListenButton } from '../../shared/listening/ListenButton.tsx';
import { useOffered } from '../../shared/leaving/offered.ts';
import { putProject, useCurrentProject } from '../../shared/project.ts';
import { beginnings, HELD_RHYTHM, playingOf, putInto, type ChangesEdit, type Put } from './changes-edit.ts';
import { ChangesLine } from './ChangesLine.tsx';
import { ChordBox } from './ChordBox.tsx';
import { useKeepChanges } from '../keep.ts';
import { LinesMenu } from './LinesMenu.tsx';
import { RhythmRow } from './RhythmRow.tsx';
import { Tray } from '../Tray.tsx';

const C_MAJOR: Key = { tonic: 0, mode: 'major' };

/** Where nothing is said. */
const PLAIN = { bpm: 100, meter: { numerator: 4, denominator: 4 } };

/** Changes: chosen from the chords of a key, voiced, put into a rhythm, and used. */
export default function ChangesView() {
  const [params] = useSearchParams();
  const id = params.get('kept');
  const { data: kept, isPending } = useKeptChanges();
  const one = kept?.find((each) => each.id === id);
  if (id && isPending) return <Busy what="Opening the changes" />;
  const written = one && readOrWhy(writtenChanges(one.chords, one.meterNumerator), one.meterNumerator);
  const first =
    one && written && typeof written !== 'string'
      ? {
          key: keyName({ tonic: one.keyTonic, mode: one.keyMode }),
          line: onBeats(lineOfChanges(written, { tonic: one.keyTonic, mode: one.keyMode })),
          name: one.name,
        }
      : undefined;
  return <OpenChanges key={one?.id ?? 'new'} id={one?.id ?? 'new'} first={first} />;
}

function OpenChanges({
  id,
  first,
}: {
  id: string;
  first: { key: string; line: LineChord[]; name: string } | undefined;
}) {
  const project = useCurrentProject();
  const path = id === 'new' ? '/reuse/changes' : `/reuse/changes?kept=${id}`;
  const history = useHistory<ChangesEdit>(
    `changes ${id}`,
    useMemo(
      () => ({
        key: first?.key ?? '',
        line: first?.line ?? [],
        rhythm: HELD_RHYTHM,
        strum: 'none',
        spread: 0,
      }),
      // eslint-disable-next-line react-hooks/exhaustive-deps -- what it begins with is asked once
      [id],
    ),
    path,
  );
  const { value: edit, set } = history;
  const key = (edit.key && parseKey(edit.key)) || (project && keyOfProject(project)) || C_MAJOR;
  const [put, setPut] = useState<Put>('after');
  const [chosen, choose] = useState(0);
  const at = Math.min(chosen, Math.max(0, edit.line.length - 1));
  const [name, setName] = useState(first?.name ?? '');
  const { bpm, meter } = project
    ? {
        bpm: project.bpm,
        meter: { numerator: project.meterNumerator, denominator: project.meterDenominator },
      }
    : PLAIN;
  const beatsPerBar = meter.numerator;
  const laid = useMemo(() => layLine(edit.line), [edit.line]);
  const read = useMemo(() => changesOfLine(edit.line, beatsPerBar), [edit.line, beatsPerBar]);
  const clip = useMemo(
    () =>
      typeof read === 'string'
        ? null
        : lineClip(edit.line, { key, bpm, meter, bars: read.bars, playing: playingOf(edit) }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- key and meter are told by their values
    [edit, read, key.tonic, key.mode, bpm, meter.numerator, meter.denominator],
  );
  const chart = typeof read === 'string' ? '' : (writtenLine(edit.line, beatsPerBar) as string);
  const title = name.trim() || chart.slice(0, 60);
  const listening = useMemo(
    (): Listening | null =>
      clip && {
        id: `changes ${id}`,
        title: title || 'Changes',
        subtitle: keyName(key),
        lanes: [{ id, clip }],
      },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key is told by its values
    [clip, id, title, key.tonic, key.mode],
  );
  const isPlaying = useOffered(listening);
  const { data: harmony } = useHarmony();
  const moves = useMemo(() => countedMoves(harmony?.lines ?? []), [harmony]);
  const { data: played = [] } = usePhraseNames('role=keys&role=guitar');
  const edited = (change: Partial<LineChord>, label: string) =>
    set(
      (old) => ({ ...old, line: old.line.map((one, k) => (k === at ? { ...one, ...change } : one)) }),
      label,
    );
  const take = ({ symbol }: TrayChord) => {
    if (put === 'heard') {
      const pair = [
        ...edit.line.slice(at, at + 1),
        { symbol, beats: beatsPerBar, inversion: null, octave: 0 },
      ];
      const { beats } = beginnings(pair);
      const short = lineClip(pair, { key, bpm, meter, bars: Math.ceil(beats / beatsPerBar) });
      return void toggleListening({
        id: `chord ${symbol}`,
        title: symbol,
        subtitle: 'after the chosen chord',
        lanes: [{ id: symbol, clip: short }],
      });
    }
    const next = putInto(edit.line, at, symbol, { how: put, beats: beatsPerBar });
    set((old) => ({ ...old, line: next.line }), `${symbol}`);
    choose(next.at);
  };
  const remove = () => {
    set((old) => ({ ...old, line: old.line.toSpliced(at, 1) }), 'a chord taken out');
    choose(Math.max(0, at - 1));
  };
  const length = (k: number, beats: number) =>
    set((old) => ({ ...old, line: old.line.map((one, n) => (n === k ? { ...one, beats } : one)) }), 'length');
  const move = (by: number) => {
    const to = at + by;
    if (to < 0 || to >= edit.line.length) return;
    set(
      (old) => ({ ...old, line: old.line.with(at, old.line[to]!).with(to, old.line[at]!) }),
      'a chord moved',
    );
    choose(to);
  };
  const keep = useKeepChanges({ name: title, chart, key, bpm, meter, clip, projectId: project?.id ?? null });
  const uses = useUses({ chart, project });
  useActions('Changes', [
    { title: 'Listen, or stop', keys: [' '], run: () => listening && void toggleListening(listening) },
    { title: 'The chord before', keys: ['ArrowLeft'], run: () => choose(Math.max(0, at - 1)) },
    {
      title: 'The next chord',
      keys: ['ArrowRight'],
      run: () => choose(Math.min(edit.line.length - 1, at + 1)),
    },
    { title: 'The chord to the left', keys: ['Alt+ArrowLeft'], run: () => move(-1) },
    { title: 'The chord to the right', keys: ['Alt+ArrowRight'], run: () => move(1) },
    {
      title: 'A beat shorter',
      keys: [','],
      run: () => edit.line[at] && length(at, Math.max(1, edit.line[at].beats - 1)),
    },
    { title: 'A beat longer', keys: ['.'], run: () => edit.line[at] && length(at, edit.line[at].beats + 1) },
    { title: 'Take the chord out', keys: ['Delete'], run: () => edit.line.length > 0 && remove() },
    { title: 'Keep them as a phrase', keys: ['Ctrl+s'], run: keep.asPhrase },
  ]);
  const problem = edit.line.length > 0 && typeof read === 'string' ? read : null;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-3 pb-3">
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
          <h1 className="text-xl">Changes</h1>
          <input
            className="field h-7 w-52"
            aria-label="Name of the changes"
            placeholder="a name for them"
            maxLength={200}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
          <label className="flex items-center gap-1.5 text-sm">
            <span className="text-muted">in</span>
            <select
              className="field h-7 w-40 py-0"
              aria-label="Key of the changes"
              value={edit.key}
              onChange={({ target: { value } }) => set((old) => ({ ...old, key: value }), 'key')}
            >
              <KeyOptions none={project ? `${keyName(key)}, the project's` : keyName(key)} />
            </select>
          </label>
          <LinesMenu
            keyIn={key}
            beatsPerBar={beatsPerBar}
            onLine={(line, label, inKey) => {
              set((old) => ({ ...old, line, key: inKey ?? old.key }), label);
              choose(0);
            }}
          />
          <div className="ml-auto">
            <UndoButtons history={history} />
          </div>
        </div>
        {edit.line.length === 0 ? (
          <p className="border-y border-rule px-3 py-6 text-muted">
            No chords yet. Press one below, or begin with some that were kept, the library's own, or the
            project's.
          </p>
        ) : (
          <ChangesLine
            line={edit.line}
            laid={laid}
            at={at}
            beatsPerBar={beatsPerBar}
            keyIn={key}
            onChoose={choose}
            onLength={length}
          />
        )}
        {problem && (
          <p className="text-sm text-madder" role="alert">
            {problem}
          </p>
        )}
        <div className="flex items-center gap-3">
          <ListenButton listening={listening} isPlaying={isPlaying} />
          <RhythmRow edit={edit} beatsPerBar={beatsPerBar} played={played} set={set} />
        </div>
        <Tray keyIn={key} before={edit.line[at]} moves={moves} put={put} onPut={setPut} onChord={take} />
      </div>
      <aside className="flex w-[300px] flex-none flex-col border-l border-rule">
        <div className="min-h-0 flex-1 overflow-auto p-4">
          {edit.line[at] ? (
            <ChordBox
              one={edit.line[at]}
              laid={laid[at]!}
              keyIn={key}
              line={edit.line}
              at={at}
              onEdit={edited}
              onOctaves={(by) =>
                set(
                  (old) => ({
                    ...old,
                    line: old.line.map((one) => ({
                      ...one,
                      octave: Math.min(2, Math.max(-2, one.octave + by)),
                    })),
                  }),
                  'octave of all',
                )
              }
              onRemove={remove}
            />
          ) : (
            <p className="text-sm text-muted">
              Chords of the key stand below by what they do next: at rest, on the way, or pulling.
            </p>
          )}
        </div>
        <div className="grid gap-2 border-t border-rule p-4">
          <p className="text-sm text-muted">
            {typeof read === 'string' ? '' : `${plural(read.bars, 'bar')}, ${Math.round(bpm)} BPM. `}
            They can be kept, played, and used.
          </p>
          <div className="flex flex-wrap gap-1.5">
            <Button small disabled={!clip} onClick={keep.asChanges}>
              Keep the changes
            </Button>
            <Button small disabled={!clip || !project} onClick={uses.asChart}>
              As the project's chart
            </Button>
            <Button
              small
              disabled={!clip}
              onClick={uses.intoBand}
              title="A band and an arpeggiator play them live"
            >
              Play into a source
            </Button>
          </div>
          <Button kind="primary" className="h-9" disabled={!clip} onClick={keep.asPhrase}>
            Keep as a phrase
          </Button>
        </div>
      </aside>
    </>
  );
}

/** What changes are used for beside being kept: the project's chart, or a band that plays them live. */
function useUses({ chart, project }: { chart: string; project: ProjectWire | undefined }) {
  const navigate = useNavigate();
  return {
    asChart: () =>
      project &&
      void putProject({ ...project, chords: chart }).then(
        () =>
          toastWithUndo(`They are the chart of "${project.name}".`, `the chart of ${project.name}`, () =>
            putProject(project).catch(tellProblem),
          ),
        tellProblem,
      ),
    intoBand: () => {
      for (const id of ['band', 'arpeggiator']) {
        const settings = useStandIns.getState()[id]?.settings;
        if (settings) setStandIn(id, { settings: { ...settings, chart } as typeof settings });
      }
      void navigate('/capture/live?source=band');
    },
  };
}
