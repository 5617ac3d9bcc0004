import { useQuery, useQueryClient } from '@tanstack/react-query';
import equal from 'fast-deep-equal';
import { zipSync } from 'fflate';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import {
  cutTo,
  secondsOfWeave,
  weaveInOneFile,
  weavePartFiles,
  weaveSectionFiles,
} from '../../core/exchange/weave-files.ts';
import { madeParts } from '../../core/harmonize/made-clips.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { parseKey } from '../../core/music/key.ts';
import { safeFileName } from '../../core/phrase/naming.ts';
import { ROLES, type Role } from '../../core/split/roles.ts';
import type { LaidWeave } from '../../core/weave/lay.ts';
import { proposalsFor } from '../../core/weave/proposals.ts';
import {
  cellAt,
  nameIn,
  withCell,
  WEAVE_ENDINGS,
  type Weave,
  type WeaveEnding,
} from '../../core/weave/weave.ts';
import { plural } from '../../core/words.ts';
import type { WeaveDetail } from '../../server/library/weaves.ts';
import { listen, toggleListening, type Listening } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHistory } from '../../ui/history.ts';
import { saveFile } from '../../ui/save-file.ts';
import { UndoButtons } from '../../ui/UndoButtons.tsx';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { setPhraseState } from '../shared/phrases/state.ts';
import { CellBox, PartBox, ProposalList, SectionBox } from './WeaveBoxes.tsx';
import { WeaveSheet } from './WeaveSheet.tsx';
import {
  placeFrom,
  withForm,
  withNewPart,
  withoutCell,
  withoutPart,
  withoutSection,
  withPart,
  withPhrase,
  withSection,
  type Place,
} from './weave-edit.ts';
import { ListenButton } from '../shared/ListenButton.tsx';
import { useOffered } from '../shared/offered.ts';
import { proposable, useCandidates, useFills, useLaid } from './woven.ts';

/** Parts that are kept at once. */
const MOST_KEPT = 15;

/** A weave is saved this long after the last change, in milliseconds. */
const REST = 600;

/** One arrangement sheet. */
export default function WeaveView() {
  const { id = '' } = useParams();
  const { data, error } = useQuery({
    queryKey: ['weave', id],
    queryFn: () => request<WeaveDetail>(`/api/weaves/${id}`),
  });
  if (error) return <EmptyState title="This weave could not be opened">{error.message}</EmptyState>;
  if (!data) return <Busy what="Opening the weave" />;
  return <OpenWeave key={id} detail={data} />;
}

function OpenWeave({ detail }: { detail: WeaveDetail }) {
  const { id, projectId } = detail;
  const history = useHistory<Weave>(`weave ${id}`, detail.weave, `/reuse/weave/${id}`);
  const { value: weave, set } = history;
  const problem = useSaved(id, history);
  const { phrases, laid, problem: cannot, isLoading } = useLaid(weave);
  const [place, setPlace] = useState<Place>({ section: weave.sections[0]?.id ?? null, part: null });
  const section = weave.sections.find((one) => one.id === place.section);
  const part = weave.parts.find((one) => one.id === place.part);
  const cell = section && part && cellAt(weave, section.id, part.id);
  const { data: candidates = [] } = useCandidates(part?.role ?? null, projectId);
  const { data: fills = [] } = useFills();
  const proposals = useMemo(
    () => proposalsFor(weave, new Map([...proposable(phrases.values(), null), ...proposable(fills, 'fill')])),
    [weave, phrases, fills],
  );
  const remarks = useMemo(
    () =>
      (laid?.remarks ?? []).map((one) => ({
        ...one,
        where: `${nameIn(weave.parts, one.part)} in ${nameIn(weave.sections, one.section)}`,
      })),
    [laid, weave.parts, weave.sections],
  );
  const listening = useMemo(() => laid && listeningOf(id, weave.title, laid), [id, weave.title, laid]);
  const isPlaying = useOffered(listening);
  const hear = (only: 'section' | 'part') => {
    if (!laid) return;
    if (only === 'part' && part) {
      const alone = { ...laid, parts: laid.parts.filter((one) => one.part.id === part.id) };
      return void listen(listeningOf(`${id} ${part.id}`, `${weave.title}: ${part.name}`, alone));
    }
    const from = laid.sections.find((one) => one.id === section?.id);
    if (from) void listen(listeningOf(`${id} ${from.id}`, `${weave.title}: ${from.name}`, cutTo(laid, from)));
  };
  const go = (across: number, down: number) => {
    const next = placeFrom(weave, place, across, down);
    setPlace(next);
    const name = next.section && next.part ? `[data-cell="${next.section} ${next.part}"]` : null;
    if (name) document.querySelector(name)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  };
  const put = (phrase: string) =>
    section && part && set((old) => withPhrase(old, section.id, part.id, phrase), 'a phrase put');
  const nextCandidate = (by: number) => {
    if (!section || !part || candidates.length === 0) return;
    const at = candidates.findIndex(({ id: one }) => one === cell?.phrase);
    put(candidates[(at + by + candidates.length) % candidates.length]!.id);
  };
  const out = useOut(weave, laid, { projectId });
  useActions('The weave', [
    { title: 'Listen, or stop', keys: [' '], run: () => listening && void toggleListening(listening) },
    { title: 'A place to the left', keys: ['ArrowLeft'], run: () => go(-1, 0) },
    { title: 'A place to the right', keys: ['ArrowRight'], run: () => go(1, 0) },
    { title: 'A place up', keys: ['ArrowUp'], run: () => go(0, -1) },
    { title: 'A place down', keys: ['ArrowDown'], run: () => go(0, 1) },
    { title: 'The next phrase in this cell', keys: ['.'], run: () => nextCandidate(1) },
    { title: 'The phrase before in this cell', keys: [','], run: () => nextCandidate(-1) },
    {
      title: 'Empty the cell',
      keys: ['Delete'],
      run: () => cell && set((old) => withoutCell(old, cell.section, cell.part), 'a cell emptied'),
    },
    {
      title: 'Silent, or heard again',
      keys: ['m'],
      run: () =>
        cell &&
        set(
          (old) => withCell(old, cell.section, cell.part, (one) => ({ ...one, muted: !one.muted })),
          'silence',
        ),
    },
    { title: 'Hear this section alone', keys: ['s'], run: () => hear('section') },
    { title: 'Hear this part alone', keys: ['p'], run: () => hear('part') },
    { title: 'Files of the parts, in a ZIP', keys: ['Ctrl+s'], run: out.zip },
  ]);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-3">
        <Head history={history} laid={laid} isLoading={isLoading} onPlace={setPlace} />
        {(problem ?? cannot) && (
          <p className="text-sm text-madder" role="alert">
            {problem ?? cannot}
          </p>
        )}
        {weave.parts.length === 0 && (
          <p className="text-muted">No parts yet: add one, and put phrases into its cells.</p>
        )}
        <WeaveSheet
          weave={weave}
          phrases={phrases}
          place={place}
          told={new Set(remarks.map((one) => `${one.section} ${one.part}`))}
          onPlace={setPlace}
        />
        <div className="flex flex-wrap items-center gap-2 text-sm">
          <ListenButton listening={listening} isPlaying={isPlaying} />
          <select
            className="field h-8 w-36"
            aria-label="Add a part"
            value=""
            onChange={({ target: { value } }) => {
              const made = withNewPart(weave, value as Role, value);
              set(() => made.weave, 'a part added');
              setPlace({ section: weave.sections[0]?.id ?? null, part: made.id });
            }}
          >
            <option value="">Add a part ...</option>
            {ROLES.map((role) => (
              <option key={role}>{role}</option>
            ))}
          </select>
          <span className="ml-auto text-muted">out:</span>
          <Button
            small
            disabled={!laid}
            onClick={out.zip}
            title="A file a part, equally long, and one of all"
          >
            Parts, ZIP
          </Button>
          <Button small disabled={!laid} onClick={out.one}>
            One file
          </Button>
          <Button small disabled={!laid} onClick={out.sections}>
            Sections, ZIP
          </Button>
          <Button small disabled={!laid || !part} onClick={() => part && out.without(part.id)}>
            Without {part?.name ?? 'a part'}
          </Button>
          <Button small disabled={!laid || !section} onClick={() => section && out.keep(section.id)}>
            Keep the section
          </Button>
        </div>
      </div>
      <aside className="flex w-[300px] flex-none flex-col gap-5 overflow-auto border-l border-rule p-4">
        {section && part ? (
          <CellBox
            key={`${section.id} ${part.id}`}
            cell={cell}
            phrase={cell && phrases.get(cell.phrase)}
            role={part.role}
            candidates={candidates}
            fills={fills}
            onEdit={(change, label) =>
              set((old) => withCell(old, section.id, part.id, (one) => ({ ...one, ...change })), label)
            }
            onPhrase={put}
            onClear={() => set((old) => withoutCell(old, section.id, part.id), 'a cell emptied')}
          />
        ) : section ? (
          <SectionBox
            key={section.id}
            section={section}
            beats={section.meter?.numerator ?? weave.meter.numerator}
            onEdit={(change, label) => set((old) => withSection(old, section.id, change), label)}
            onRemove={() => set((old) => withoutSection(old, section.id), 'a section taken out')}
            onListen={() => hear('section')}
          />
        ) : (
          part && (
            <PartBox
              key={part.id}
              part={part}
              onEdit={(change, label) => set((old) => withPart(old, part.id, change), label)}
              onRemove={() => set((old) => withoutPart(old, part.id), 'a part taken out')}
              onListen={() => hear('part')}
            />
          )
        )}
        <ProposalList
          proposals={proposals}
          remarks={remarks}
          onAccept={(chosen) =>
            set(
              (old) => chosen.reduce((now, one) => one.apply(now), old),
              chosen.length === 1 ? 'a proposal' : `${chosen.length} proposals`,
            )
          }
          onRefuse={(one) =>
            set((old) => ({ ...old, refused: [...old.refused, one.id] }), 'a proposal refused')
          }
          onPlace={(to, on) => setPlace({ section: to, part: on })}
        />
      </aside>
    </>
  );
}

/** Title, form, tempo, ending; and how long it is. */
function Head({
  history,
  laid,
  isLoading,
  onPlace,
}: {
  history: ReturnType<typeof useHistory<Weave>>;
  laid: LaidWeave | null;
  isLoading: boolean;
  onPlace: (place: Place) => void;
}) {
  const { value: weave, set } = history;
  const written = weave.sections
    .map(({ name }) => name)
    .join(weave.sections.some(({ name }) => /\s/.test(name)) ? ', ' : ' ');
  const [form, setForm] = useState(written);
  useEffect(() => setForm(written), [written]);
  const take = () => {
    if (form.trim() === '' || form === written) return;
    set((old) => withForm(old, form), 'the form');
    onPlace({ section: null, part: null });
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
          title="Sections as they follow, such as A A B A, or verse, refrain"
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
            ? `${plural(laid.bars, 'bar')}, ${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, '0')}, ${weave.bpm} BPM${isSaved ? '' : ', not saved yet'}`
            : ''}
      </span>
      <div className="ml-auto">
        <UndoButtons history={history} />
      </div>
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

function listeningOf(id: string, title: string, laid: LaidWeave): Listening {
  return {
    id: `weave ${id}`,
    title,
    subtitle: `${plural(laid.bars, 'bar')}, ${plural(laid.parts.length, 'part')}`,
    lanes: laid.parts.map(({ part, clip }) => ({ id: part.id, clip })),
  };
}

/** Saves each change once it has rested; the answer has what other windows changed in other cells. Tells why it could not. */
function useSaved(id: string, history: ReturnType<typeof useHistory<Weave>>): string | null {
  const { value, base, rebase, settle } = history;
  const [problem, setProblem] = useState<string | null>(null);
  const client = useQueryClient();
  const current = useRef(value);
  current.current = value;
  const save = useCallback(
    async (from: Weave, weave: Weave) => {
      try {
        const kept = await sendJson<WeaveDetail>('PUT', `/api/weaves/${id}`, { base: from, weave });
        client.setQueryData(['weave', id], kept);
        if (equal(kept.weave, weave) || current.current !== weave) rebase(weave);
        if (!equal(kept.weave, weave) && current.current === weave) settle(kept.weave);
        setProblem(null);
        void renew('weaves');
      } catch (error) {
        setProblem(error instanceof Error ? error.message : String(error));
      }
    },
    [id, client, rebase, settle],
  );
  useEffect(() => {
    if (equal(value, base)) return;
    const timer = setTimeout(() => void save(base, value), REST);
    return () => clearTimeout(timer);
  }, [value, base, save]);
  return problem;
}

/** What leaves: files, and a section kept as a sheaf. */
function useOut(weave: Weave, laid: LaidWeave | null, { projectId }: { projectId: string | null }) {
  const name = safeFileName(weave.title);
  const zipped = (files: { file: string; midi: Parameters<typeof writeMidiFile>[0] }[], as: string) =>
    saveFile(
      zipSync(Object.fromEntries(files.map(({ file, midi }) => [file, writeMidiFile(midi)]))),
      as,
      'application/zip',
    );
  return {
    zip: () => {
      if (!laid) return;
      const all = { file: `${name}, all parts.mid`, midi: weaveInOneFile(weave, laid) };
      zipped([...weavePartFiles(weave, laid), all], `${name}.zip`);
    },
    one: () => laid && saveFile(writeMidiFile(weaveInOneFile(weave, laid)), `${name}.mid`, 'audio/midi'),
    sections: () => laid && zipped(weaveSectionFiles(weave, laid), `${name}, sections.zip`),
    without: (part: string) =>
      laid &&
      saveFile(
        writeMidiFile(weaveInOneFile(weave, laid, new Set([part]))),
        `${name}, without ${safeFileName(nameIn(weave.parts, part))}.mid`,
        'audio/midi',
      ),
    keep: (id: string) => {
      const section = laid?.sections.find((one) => one.id === id);
      if (!laid || !section) return;
      const sounding = cutTo(laid, section).parts.filter(({ clip }) => clip.notes.length > 0);
      const made = madeParts(
        sounding
          .slice(0, MOST_KEPT)
          .map(({ part: { name: called, role }, clip }) => ({ name: called, role, clip })),
      );
      if (!made) return;
      const parents = weave.cells.filter((cell) => cell.section === id).map(({ phrase }) => phrase);
      void sendJson<{ phraseIds: string[] }>('POST', '/api/made', {
        ...made,
        name: `${weave.title}, ${section.name}`,
        key: parseKey(weave.key) ?? null,
        parentIds: [...new Set(parents)],
        done: `woven: ${weave.title}, ${section.name}`,
        tags: [],
        projectId,
      }).then(({ phraseIds }) => {
        void renew('phrases', 'facets', 'children', 'relatives', 'takes');
        toastWithUndo(`Kept "${section.name}" as a sheaf of ${phraseIds.length}.`, 'keeping it', () =>
          setPhraseState(phraseIds, 'discarded').catch(tellProblem),
        );
      }, tellProblem);
    },
  };
}
