import equal from 'fast-deep-equal';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useParams } from 'react-router';
import { cutTo } from '../../core/exchange/weave-files.ts';
import {
  placesOf,
  withCopy,
  withNewPart,
  withoutPart,
  withoutSection,
  withPart,
  withPhrase,
  withPhraseInPart,
  withPhrasesIn,
  withSection,
} from '../../core/weave/edit.ts';
import { mergedWeave } from '../../core/weave/merge.ts';
import { proposalsFor } from '../../core/weave/proposals.ts';
import { cellAt, nameIn, withoutCell, type Weave } from '../../core/weave/weave.ts';
import type { WeaveDetail } from '../../server/library/weaves.ts';
import { listen } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHistory } from '../../ui/history/history.ts';
import { Tabs } from '../../ui/Tabs.tsx';
import { request } from '../api/client.ts';
import { phraseQuery, queryClient, tellProblem } from '../api/queries.ts';
import { openLeave } from '../shared/leaving/leaving.ts';
import { BehindAlert } from '../shared/editing/BehindAlert.tsx';
import { useOffered } from '../shared/leaving/offered.ts';
import { useSaved } from '../shared/editing/saved.ts';
import { BringIn } from './BringIn.tsx';
import { CellBox } from './boxes/CellBox.tsx';
import { ClashList } from './boxes/ClashList.tsx';
import { ownCopyOf } from '../shared/phrases/own-copy.ts';
import { DragOnSheet, type Dragged } from './DragOnSheet.tsx';
import type { LaidSheet } from './laid.ts';
import { LibraryBox } from './boxes/LibraryBox.tsx';
import { keepPlace, savePartFiles } from './out.ts';
import { PartBox } from './boxes/PartBox.tsx';
import { placeFrom, type Place } from './place.ts';
import { ProposalList, RemarkList } from './boxes/ProposalList.tsx';
import { SectionBox } from './boxes/SectionBox.tsx';
import { WeaveHead } from './WeaveHead.tsx';
import { WeaveSheet } from './WeaveSheet.tsx';
import { proposable, useCandidates, useLaid, usePhrasesFor } from './woven.ts';
import { useHold } from './hold.ts';
import { listeningOf, partAlone, useListenOnceThere } from './listening.ts';
import { SheetBar } from './SheetBar.tsx';

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
  const { problem, isBehind } = useSaved(
    { kind: 'weave', id, kept: detail.weave, revision: detail.revision, merge: mergedWeave },
    history,
  );
  const { phrases, laid, sheet, problem: cannot, isLoading, settled } = useLaid(weave);
  const [place, setPlace] = useState<Place>({ section: weave.sections[0]?.id ?? null, part: null });
  const [side, setSide] = useState<'here' | 'library'>('here');
  const [isBringing, setBringing] = useState(false);
  const section = weave.sections.find((one) => one.id === place.section);
  const part = weave.parts.find((one) => one.id === place.part);
  const cell = section && part && cellAt(weave, section.id, part.id);
  const { data: candidates = [] } = useCandidates(part?.role ?? null, projectId);
  const { data: fills } = usePhrasesFor('fill', '&role=drums');
  const { data: variations } = usePhrasesFor('variation');
  const proposals = useMemo(
    () =>
      isLoading || !fills || !variations
        ? null
        : proposalsFor(
            weave,
            new Map([
              ...proposable(phrases.values(), null),
              ...proposable(fills, 'fill'),
              ...proposable(variations, 'variation'),
            ]),
          ),
    [weave, phrases, fills, variations, isLoading],
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
  const isPlaying = useOffered(listening, 'bar');
  const listenOnceLaid = useListenOnceThere(listening);
  const hold = useHold(history);
  const hear = (only: 'section' | 'part') => {
    if (!laid) return;
    if (only === 'part' && part) return void listen(partAlone(id, weave.title, laid, part));
    const from = laid.sections.find((one) => one.id === section?.id);
    if (from) void listen(listeningOf(`${id} ${from.id}`, `${weave.title}: ${from.name}`, cutTo(laid, from)));
  };
  const hearFrom = () => {
    const from = laid?.sections.find((one) => one.id === section?.id);
    if (listening && from) void listen(listening, from.tick);
  };
  const go = (across: number, down: number) => {
    const next = placeFrom(weave, place, across, down);
    setPlace(next);
    const name = next.section && next.part ? `[data-cell="${next.section} ${next.part}"]` : null;
    if (name) document.querySelector(name)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  };
  const put = (phrase: string) => {
    if (section && part) set((old) => withPhrase(old, section.id, part.id, phrase), 'a phrase put');
    else if (part) set((old) => withPhraseInPart(old, part.id, phrase), 'a phrase all along');
  };
  const playing = part && (cell ?? weave.cells.find((one) => one.part === part.id))?.phrase;
  const nextCandidate = (by: number) => {
    if (!part || candidates.length === 0) return;
    const at = candidates.findIndex(({ id: one }) => one === playing);
    put(candidates[(at + by + candidates.length) % candidates.length]!.id);
  };
  /** A phrase, or its whole sheaf, onto a place: a cell takes one phrase, a section each into the part of its role. */
  const fall = (dragged: Dragged, { section: to, part: on }: Place) => {
    if (to === null) return;
    if (on !== null && !dragged.isSheaf) {
      setPlace({ section: to, part: on });
      return set((old) => withPhrase(old, to, on, dragged.phrase), 'a phrase put');
    }
    queryClient.fetchQuery(phraseQuery(dragged.phrase)).then((phrase) => {
      const all = dragged.isSheaf ? [phrase, ...phrase.siblings] : [phrase];
      set((old) => withPhrasesIn(old, to, all), all.length > 1 ? 'a sheaf put' : 'a phrase put');
      setPlace({ section: to, part: null });
    }, tellProblem);
  };
  const copy = () => {
    const phrase = cell && phrases.get(cell.phrase);
    if (!phrase || !section || !part) return;
    ownCopyOf(phrase, projectId).then(
      (made) => set((old) => withCopy(old, section.id, part.id, made), 'a copy of its own'),
      tellProblem,
    );
  };
  const leave = (how: (now: LaidSheet) => void) => void settled().then((now) => now && how(now));
  // The server lays what was saved; a change that has not rested yet is waited for.
  const howItLeaves = () =>
    setTimeout(() => openLeave({ kind: 'weave', id }), equal(weave, history.base) ? 0 : 1200);
  const keep = () => leave((now) => void keepPlace(now, place, projectId));
  useActions('The weave', [
    { title: 'Listen, or stop', keys: [' '], run: listenOnceLaid },
    { title: 'A place to the left', keys: ['ArrowLeft'], run: () => go(-1, 0) },
    { title: 'A place to the right', keys: ['ArrowRight'], run: () => go(1, 0) },
    { title: 'A place up', keys: ['ArrowUp'], run: () => go(0, -1) },
    { title: 'A place down', keys: ['ArrowDown'], run: () => go(0, 1) },
    {
      title: 'The next phrase in this cell, or all along this part',
      keys: ['.'],
      run: () => nextCandidate(1),
    },
    { title: 'The phrase before', keys: [','], run: () => nextCandidate(-1) },
    {
      title: 'Empty the cell',
      keys: ['Delete'],
      run: () => cell && set((old) => withoutCell(old, cell.section, cell.part), 'a cell emptied'),
    },
    {
      title: 'Silent, or heard again',
      keys: ['m'],
      run: () => cell && hold.edit(cell, { muted: !cell.muted }, 'silence'),
    },
    { title: 'Hear from this section on', keys: ['f'], run: hearFrom },
    { title: 'Hear this section alone', keys: ['s'], run: () => hear('section') },
    { title: 'Hear this part alone', keys: ['p'], run: () => hear('part') },
    {
      title: 'Phrases of the library, or the place',
      keys: ['l'],
      run: () => setSide(side === 'here' ? 'library' : 'here'),
    },
    { title: 'Keep the cell, part or section', keys: ['k'], run: keep },
    {
      title: 'How the weave leaves',
      keys: ['Ctrl+Shift+e'],
      run: howItLeaves,
      words: 'export save files midi format recipient section',
    },
    { title: 'Files of the parts, in a ZIP', keys: ['Ctrl+s'], run: () => leave(savePartFiles) },
    {
      title: 'Bring parts of another weave in',
      run: () => setBringing(true),
      words: 'import copy merge arrangement',
    },
  ]);
  return (
    <DragOnSheet onDrop={fall}>
      <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-3">
        <WeaveHead id={id} history={history} laid={laid} isLoading={isLoading} onPlace={setPlace} />
        {isBehind && (
          <BehindAlert
            what="changed the same as you"
            onTheirs={() => history.settle(detail.weave)}
            onMine={() => history.rebase(detail.weave)}
          />
        )}
        {(problem ?? cannot) && !isBehind && (
          <p className="text-sm text-madder" role="alert">
            {problem ?? cannot}
          </p>
        )}
        {weave.parts.length === 0 && (
          <p className="text-muted">No parts yet: add one, or put phrases of the library into a section.</p>
        )}
        <WeaveSheet
          weaveId={id}
          weave={weave}
          phrases={phrases}
          place={place}
          told={useMemo(() => new Set(remarks.map((one) => `${one.section} ${one.part}`)), [remarks])}
          onPlace={setPlace}
        />
        <SheetBar
          listening={listening}
          isPlaying={isPlaying}
          isLaid={laid !== null}
          part={part?.id ?? null}
          partName={part?.name}
          onAdd={(role) => {
            const made = withNewPart(weave, role);
            set(() => made.weave, 'a part added');
            setPlace({ section: weave.sections[0]?.id ?? null, part: made.id });
          }}
          onBring={() => setBringing(true)}
          onLeave={leave}
          onHowItLeaves={howItLeaves}
          onKeepAll={(now) => void keepPlace(now, { section: null, part: null }, projectId)}
        />
      </div>
      {isBringing && <BringIn weaveId={id} onBring={set} onClose={() => setBringing(false)} />}
      <aside className="flex w-[300px] flex-none flex-col gap-4 overflow-auto border-l border-rule p-4">
        <div className="flex gap-4 border-b border-rule">
          <Tabs
            value={side}
            tabs={[
              ['here', 'This place'],
              ['library', 'From the library'],
            ]}
            onValue={setSide}
          />
        </div>
        {side === 'library' ? (
          <LibraryBox
            projectId={projectId}
            into={section?.name ?? null}
            onPut={(phrase, isSheaf) =>
              section &&
              fall({ phrase: phrase.id, name: phrase.name, isSheaf }, { section: section.id, part: null })
            }
          />
        ) : section && part ? (
          <CellBox
            key={`${section.id} ${part.id}`}
            cell={cell}
            phrase={cell && phrases.get(cell.phrase)}
            role={part.role}
            candidates={candidates}
            fills={fills ?? []}
            places={cell ? placesOf(weave, cell.phrase) : 0}
            answer={cell && hold.answers[cell.phrase]}
            asks={cell !== undefined && hold.asked === cell.phrase}
            onAnswer={(answer) => cell && hold.say(cell, answer)}
            onEdit={(change, label) => cell && hold.edit(cell, change, label)}
            onPhrase={put}
            onCopy={copy}
            onKeep={keep}
            onClear={() => set((old) => withoutCell(old, section.id, part.id), 'a cell emptied')}
          />
        ) : section ? (
          <SectionBox
            key={section.id}
            section={section}
            beats={section.meter?.numerator ?? weave.meter.numerator}
            onEdit={(change, label) => set((old) => withSection(old, section.id, change), label)}
            onRemove={() => set((old) => withoutSection(old, section.id), 'a section taken out')}
            onListen={hearFrom}
            onLoop={() => hear('section')}
            onKeep={keep}
          />
        ) : (
          part && (
            <PartBox
              key={part.id}
              part={part}
              candidates={candidates}
              playing={playing}
              onEdit={(change, label) => set((old) => withPart(old, part.id, change), label)}
              onPhrase={put}
              onRemove={() => set((old) => withoutPart(old, part.id), 'a part taken out')}
              onListen={() => hear('part')}
              onKeep={keep}
            />
          )
        )}
        {side === 'here' && section && !part && laid && (
          <ClashList
            sheet={sheet}
            laid={laid}
            section={section.id}
            onWay={(way) => set(way.apply, way.text)}
            onMeant={(one) => set((old) => ({ ...old, refused: [...old.refused, one] }), 'a clash meant')}
          />
        )}
        {side === 'here' && (
          <ProposalList
            proposals={proposals}
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
        )}
        {side === 'here' && (
          <RemarkList
            remarks={remarks}
            onWay={(way) => set(way.apply, way.text)}
            onPlace={(to, on) => setPlace({ section: to, part: on })}
          />
        )}
      </aside>
    </DragOnSheet>
  );
}
