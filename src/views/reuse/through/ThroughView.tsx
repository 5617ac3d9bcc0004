import { useQueries } from '@tanstack/react-query';
import { Play } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { keyName, usesFlats } from '../../../core/music/key.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { barsUntil } from '../../../core/music/timeline.ts';
import { barsOf, type Clip } from '../../../core/phrase/clip.ts';
import type { MendWay } from '../../../core/through/mends.ts';
import { WAYS, type Way } from '../../../core/through/pieces.ts';
import { readOrWhy, type Changes } from '../../../core/through/sounding.ts';
import { plural } from '../../../core/words.ts';
import { toggleListening, usePlayer, type Listening } from '../../../sound/player.ts';
import { useActions } from '../../../ui/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { Busy, EmptyState } from '../../../ui/EmptyState.tsx';
import { useHistory } from '../../../ui/history/history.ts';
import { phraseQuery, type PhraseWire } from '../../api/queries.ts';
import { heardClip } from '../../shared/phrases/listening.ts';
import { useOffered } from '../../shared/leaving/offered.ts';
import { useCurrentProject } from '../../shared/project.ts';
import { barLinesWithBeats } from '../../shared/takes/strand-columns.ts';
import { clashRows } from '../clash-rows.ts';
import { ChangesFields } from '../changes/ChangesFields.tsx';
import { ChordRow } from '../changes/ChordRow.tsx';
import { FollowBox } from './FollowBox.tsx';
import { useKeep } from '../keep.ts';
import { OutsideList, type OutsideRow } from './OutsideList.tsx';
import { PartStrip } from './PartStrip.tsx';
import {
  areTogether,
  isRead,
  partEdit,
  playedOver,
  takenThrough,
  targetKey,
  titleOf,
  withPart,
  type Taken,
  type ThroughEdit,
} from './through-edit.ts';
import { ReuseHeading } from '../ReuseHeading.tsx';
import { GoToLibrary } from '../../shared/GoToLibrary.tsx';

/** A phrase, or the parts of a sheaf, over other chords. */
export default function ThroughView() {
  const [params] = useSearchParams();
  const ids = useMemo(() => (params.get('of') ?? '').split(',').filter(Boolean), [params]);
  const found = useQueries({ queries: ids.map((id) => phraseQuery(id)) });
  const error = found.find((one) => one.error)?.error;
  const phrases = found.flatMap(({ data }) => data ?? []);
  if (ids.length === 0)
    return (
      <EmptyState title="Nothing is chosen" action={<GoToLibrary />}>
        Choose a phrase or some parts of a sheaf in the library, and take them through other chords.
      </EmptyState>
    );
  if (error) return <EmptyState title="This phrase could not be opened">{error.message}</EmptyState>;
  if (phrases.length < ids.length) return <Busy what="Opening the phrases" />;
  return <OpenThrough key={ids.join()} phrases={phrases} />;
}

function OpenThrough({ phrases }: { phrases: readonly PhraseWire[] }) {
  const ids = phrases.map(({ id }) => id).join();
  const path = `/reuse/through?of=${ids}`;
  const project = useCurrentProject();
  const lead = phrases.find(({ clip }) => clip.key) ?? phrases[0]!;
  const first = useMemo((): ThroughEdit => {
    const from = areTogether(phrases) ? playedOver(lead, { from: null }) : null;
    return { from, to: project?.chords || (typeof from === 'string' ? from : ''), key: '', parts: {} };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what it begins with is asked once
  }, [ids]);
  const history = useHistory<ThroughEdit>(`through ${ids}`, first, path);
  const { value: edit, set } = history;
  const beats = lead.meterNumerator;
  const read = {
    from: useMemo(() => readOrWhy(playedOver(lead, edit), beats), [edit, lead, beats]),
    to: useMemo(() => readOrWhy(edit.to, beats), [edit.to, beats]),
  };
  const [selected, select] = useState(phrases[0]!.id);
  const [isBefore, setBefore] = useState(false);
  const [looked, setLooked] = useState<{ part: string; note: number } | null>(null);
  const pins = usePlayer((state) => state.pins);
  const takes = useMemo(
    () => (isRead(read.from) && isRead(read.to) ? allTaken(phrases, edit, read.to, pins) : null),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is read follows from the edit
    [phrases, edit, pins],
  );
  const chosen = takes?.taken.find(({ phrase }) => phrase.id === selected) ?? takes?.taken[0];
  const row = takes?.outside.find((one) => one.part.id === looked?.part && one.note === looked?.note);
  const listening = useMemo((): Listening | null => {
    if (!takes) return null;
    return {
      id: `through ${ids}`,
      title: titleOf(phrases),
      subtitle: isBefore ? 'as it was' : `through ${edit.to}`,
      lanes: takes.taken.map(({ phrase, result }) => ({
        id: phrase.id,
        clip: isBefore ? heardClip(phrase.clip, phrase) : result.clip,
      })),
    };
  }, [takes, isBefore, ids, phrases, edit.to]);
  const isPlaying = useOffered(listening);
  const change = (part: Parameters<typeof withPart>[2], label: string) =>
    chosen && set((old) => withPart(old, chosen.phrase.id, part), label);
  const mend = (rows: readonly OutsideRow[], way: MendWay) => {
    set(
      (old) =>
        rows.reduce((now, { part, note }) => {
          const { mend: before } = partEdit(now, part.id);
          return withPart(now, part.id, {
            mend: [...before.filter((one) => one.note !== note), { note, way }],
          });
        }, old),
      // Each is a deed of its own, however fast they come.
      rows.length === 1
        ? `${pitchName(rows[0]!.pitch)} at beat ${Math.round(rows[0]!.tick / rows[0]!.timeline.ppq) + 1} put right`
        : `${rows.length} notes put right`,
    );
    setLooked(null);
  };
  const lookAt = (by: number) => {
    const rows = takes?.outside ?? [];
    if (rows.length === 0) return;
    const next = rows[(rows.indexOf(row!) + by + rows.length) % rows.length]!;
    select(next.part.id);
    setLooked({ part: next.part.id, note: next.note });
  };
  const keep = useKeep(phrases, edit, takes?.taken ?? [], project?.id ?? null);
  useActions('Through other chords', [
    { title: 'Listen, or stop', keys: [' '], run: () => listening && void toggleListening(listening) },
    { title: 'Hear as it was, or through the chords', keys: ['c'], run: () => setBefore((now) => !now) },
    {
      title: 'Go another way: voices, block, scale',
      keys: ['w'],
      run: () => chosen && change({ way: nextWay(partEdit(edit, chosen.phrase.id).way) }, 'way'),
    },
    { title: 'Calmer', keys: [','], run: () => chosen && change(denser(edit, chosen, -1), 'density') },
    { title: 'Busier', keys: ['.'], run: () => chosen && change(denser(edit, chosen, 1), 'density') },
    { title: 'Next part', keys: ['ArrowDown'], run: () => select(neighbor(phrases, selected, 1)) },
    { title: 'Part before', keys: ['ArrowUp'], run: () => select(neighbor(phrases, selected, -1)) },
    { title: 'Next note outside', keys: ['n'], run: () => lookAt(1) },
    { title: 'Note outside before', keys: ['N'], run: () => lookAt(-1) },
    { title: 'The note outside to the chord note above', keys: ['u'], run: () => row && mend([row], 'up') },
    { title: 'The note outside to the chord note below', keys: ['d'], run: () => row && mend([row], 'down') },
    { title: 'Keep as children', keys: ['Ctrl+s'], run: keep },
  ]);
  const bars = isRead(read.to) ? read.to.bars : barsOf(lead.clip);
  const solid = takes?.taken[0]?.result.clip;
  const lines = useMemo(
    () =>
      solid ? barLinesWithBeats(solid.timeline, Math.max(1, barsUntil(solid.timeline, solid.length))) : [],
    [solid],
  );
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-3">
        <ReuseHeading title={titleOf(phrases)} what="through other chords" history={history} />
        <ChangesFields edit={edit} set={set} read={read} lead={lead} />
        {takes && isRead(read.from) && isRead(read.to) && (
          <div>
            {edit.from !== null && (
              <ChordRow
                changes={read.from}
                bars={bars}
                beatsPerBar={beats}
                kind="before"
                label="before"
                flatsOf={lead.takeKey}
              />
            )}
            <ChordRow
              changes={read.to}
              bars={bars}
              beatsPerBar={beats}
              kind="after"
              label="after"
              flatsOf={takes.key}
            />
          </div>
        )}
        <div className="flex min-h-0 flex-1 flex-col gap-1.5">
          {takes?.taken.map((one) => (
            <PartStrip
              key={one.phrase.id}
              taken={one}
              bars={lines}
              isSelected={one === chosen}
              looked={looked?.part === one.phrase.id ? looked.note : undefined}
              outside={takes.outside}
              isPlaying={isPlaying && !isBefore}
              onSelect={() => select(one.phrase.id)}
              onLook={(note) => {
                select(one.phrase.id);
                setLooked({ part: one.phrase.id, note });
              }}
            />
          ))}
        </div>
        <div className="flex items-center gap-3 text-sm">
          <Button disabled={!listening} onClick={() => listening && void toggleListening(listening)}>
            <Play size={13} aria-hidden="true" /> Listen
          </Button>
          <div role="group" aria-label="What is heard" className="flex gap-1">
            {([true, false] as const).map((before) => (
              <Button
                key={String(before)}
                small
                kind={isBefore === before ? 'primary' : 'plain'}
                aria-pressed={isBefore === before}
                onClick={() => setBefore(before)}
              >
                {before ? 'as it was' : 'through the chords'}
              </Button>
            ))}
          </div>
          {takes && (
            <span className="ml-auto text-muted">
              {insideWords(takes.outside.length - takes.clashes)}
              {takes.clashes > 0 && `, ${plural(takes.clashes, 'clash', 'clashes')}`}, in {keyName(takes.key)}
            </span>
          )}
        </div>
        {takes && (
          <OutsideList
            rows={takes.outside}
            chosen={row}
            flats={usesFlats(takes.key)}
            onChoose={({ part, note }) => {
              select(part.id);
              setLooked({ part: part.id, note });
            }}
            onMend={mend}
          />
        )}
      </div>
      <aside className="flex w-[300px] flex-none flex-col border-l border-rule">
        <div className="min-h-0 flex-1 overflow-auto p-4">
          {chosen ? (
            <FollowBox
              taken={chosen}
              others={[
                ...takes!.taken.filter((one) => one !== chosen).map(({ result }) => result.clip),
                ...pins.map(({ clip }) => clip),
              ]}
              edit={partEdit(edit, chosen.phrase.id)}
              onEdit={change}
            />
          ) : (
            <p className="text-sm text-muted">
              Write the chords that {phrases.length === 1 ? 'it goes' : 'they go'} through: bars between
              strokes, such as Eb | Cm Ab | Bb7 | Eb.
            </p>
          )}
        </div>
        <div className="grid gap-2 border-t border-rule p-4">
          <p className="text-sm text-muted">
            {phrases.length === 1
              ? 'The phrase stays as it is; a child of it is kept.'
              : 'The phrases stay as they are; children of them are kept, as a sheaf.'}
          </p>
          <Button kind="primary" className="h-9" disabled={!takes} onClick={keep}>
            {phrases.length === 1 ? 'Keep as a child' : `Keep ${phrases.length} children`}
          </Button>
        </div>
      </aside>
    </>
  );
}

function insideWords(outside: number): string {
  return outside === 0 ? 'nothing outside' : `${plural(outside, 'note')} outside`;
}

function nextWay(way: Way | undefined): Way {
  return WAYS[(way === undefined ? 0 : WAYS.indexOf(way) + 1) % WAYS.length]!;
}

function denser(edit: ThroughEdit, { phrase }: Taken, by: number) {
  return { density: Math.min(3, Math.max(-3, partEdit(edit, phrase.id).density + by)) };
}

function neighbor(phrases: readonly PhraseWire[], id: string, by: number): string {
  const at = phrases.findIndex((one) => one.id === id);
  return phrases[Math.min(phrases.length - 1, Math.max(0, at + by))]!.id;
}

/** All parts taken through, in one key; and what falls outside in any of them, or clashes among them and with what is pinned. */
function allTaken(
  phrases: readonly PhraseWire[],
  edit: ThroughEdit,
  to: Changes,
  pins: readonly { id: string; title: string; clip: Clip }[],
) {
  const lead = phrases.find(({ clip }) => clip.key) ?? phrases[0]!;
  const key = targetKey(edit, to, lead.takeKey);
  const taken = phrases.map((phrase) => takenThrough(phrase, edit, key));
  const outside = taken.flatMap(({ phrase, through, result, setting }): OutsideRow[] => {
    if (!setting) return [];
    const { id, name, role } = phrase;
    const { timeline, pickup } = result.clip;
    const place = { part: { id, name, role }, timeline, pickup, setting };
    return (through.outside ?? []).map((one) => ({ ...one, ...place }));
  });
  const told = new Set(outside.map(({ part, note }) => `${part.id} ${note}`));
  const beside = pins.filter(({ id }) => !phrases.some((phrase) => phrase.id === id));
  const clashes = clashRows(taken, edit, key, beside).filter(
    ({ part, note }) => !told.has(`${part.id} ${note}`),
  );
  return { key, taken, outside: [...outside, ...clashes], clashes: clashes.length };
}
