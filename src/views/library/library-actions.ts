import { useNavigate } from 'react-router';
import type { PhraseListItem } from '../../server/library/phrases/search.ts';
import { useActions } from '../../ui/actions.ts';
import { tellProblem } from '../api/queries.ts';
import type { useChoosing } from '../shared/choosing.ts';
import type { Filter } from '../shared/phrases/filter.ts';
import { rated, useTellPhrases } from '../shared/phrases/many.ts';
import { ratingWords } from '../shared/phrases/rating.ts';
import { setAsideOf, setPhraseState } from '../shared/phrases/state.ts';
import { saveLeaving } from '../shared/leaving/LeaveHandle.tsx';
import { openLeave } from '../shared/leaving/leaving.ts';
import { promptWithPhrase, sweepAddress } from '../shared/prompt.ts';
import { unpin } from '../../sound/player.ts';
import { fetchPhrase } from '../shared/phrases/listening.ts';
import { pinPhrases } from '../shared/phrases/browsing.ts';

/** A phrase and the others of its sheaf. */
async function sheafIds(id: string): Promise<string[]> {
  const { siblings } = await fetchPhrase(id);
  return [id, ...siblings.map((one) => one.id)];
}

/** Phrases that are taken through other chords together. */
const MOST_THROUGH = 16;

/** Rows that a page key goes over. */
const PAGE = 15;

/** Everything that can be done in the library, by its keys and from the palette. */
export function useLibraryActions({
  filter,
  phrases,
  selected,
  select,
  hear,
  hearBefore,
  choosing,
  chooseFound,
  openBatch,
  editTags,
  put,
  search,
}: {
  filter: Filter;
  phrases: readonly PhraseListItem[];
  selected: PhraseListItem | undefined;
  select: (id: string) => void;
  hear: (id: string, toggles: boolean) => void;
  hearBefore: () => void;
  choosing: ReturnType<typeof useChoosing>;
  chooseFound: () => void;
  openBatch: () => void;
  editTags: () => void;
  put: (phrases: readonly { id: string; name: string }[]) => void;
  search: () => void;
}): void {
  const navigate = useNavigate();
  const tell = useTellPhrases();
  const at = phrases.findIndex(({ id }) => id === selected?.id);
  const row = (by: number) => phrases[Math.min(Math.max(0, at + by), phrases.length - 1)];
  const step = (by: number) => {
    const next = row(by);
    if (next) select(next.id);
  };
  const stretch = (by: number) => {
    const next = row(by);
    if (!next || !selected) return;
    choosing.choose(next.id, selected.id);
    select(next.id);
  };
  const targets = (): { id: string; name: string }[] =>
    choosing.chosen.size > 0
      ? [...choosing.chosen].map((id) => ({
          id,
          name: phrases.find((one) => one.id === id)?.name ?? 'a phrase',
        }))
      : selected
        ? [selected]
        : [];
  const rate = (rating: number | null) => {
    const ids = targets().map(({ id }) => id);
    if (ids.length > 0) tell.mutate(rated(ids, rating));
  };
  const playInto = () =>
    selected && void promptWithPhrase(selected.id).then(() => navigate('/capture/live'), tellProblem);
  const sweepWith = () => selected && void navigate(sweepAddress(selected));
  const setAside = () => {
    const some = targets();
    if (some.length > 0) void setAsideOf(some).then(choosing.chooseNone, tellProblem);
  };
  const bringBack = () => {
    const ids = targets().map(({ id }) => id);
    if (ids.length > 0) void setPhraseState(ids, 'back').then(choosing.chooseNone, tellProblem);
  };
  useActions('Library', [
    {
      title: 'Listen to the chosen phrase, or stop',
      keys: [' '],
      run: () => selected && hear(selected.id, true),
    },
    {
      title: 'Let the phrase go on playing under others, or not',
      keys: ['p'],
      run: () => selected && void pinPhrases([selected.id]).catch(tellProblem),
      words: 'pin keep playing context together',
    },
    {
      title: 'Let its whole sheaf go on playing, or not',
      keys: ['P'],
      run: () => selected && void sheafIds(selected.id).then(pinPhrases).catch(tellProblem),
      words: 'pin together',
    },
    { title: 'Unpin all', run: () => unpin() },
    {
      title: 'The one that was heard before, against this one',
      keys: ['a'],
      run: hearBefore,
      words: 'compare a b other',
    },
    { title: 'The phrase above', keys: ['ArrowUp'], run: () => step(-1) },
    { title: 'The phrase below', keys: ['ArrowDown'], run: () => step(1) },
    { title: 'A page up', keys: ['PageUp'], run: () => step(-PAGE) },
    { title: 'A page down', keys: ['PageDown'], run: () => step(PAGE) },
    { title: 'The first phrase', keys: ['Home'], run: () => step(-phrases.length) },
    { title: 'The last phrase', keys: ['End'], run: () => step(phrases.length) },
    {
      title: 'Open the phrase',
      keys: ['Enter'],
      run: () => selected && void navigate(`/normalize/${selected.id}`),
    },
    {
      title: 'Choose the phrase too, or not',
      keys: ['x'],
      run: () => selected && choosing.choose(selected.id),
    },
    { title: 'Choose on, upward', keys: ['Shift+ArrowUp'], run: () => stretch(-1) },
    { title: 'Choose on, downward', keys: ['Shift+ArrowDown'], run: () => stretch(1) },
    { title: 'Choose all that are loaded', keys: ['Ctrl+a'], run: choosing.chooseAll },
    { title: 'Choose all that are found', keys: ['Ctrl+Shift+a'], run: chooseFound },
    { title: 'Choose none', keys: ['Escape'], run: choosing.chooseNone },
    {
      title: 'Put the phrase into the basket',
      keys: ['b'],
      run: () => targets().length > 0 && put(targets()),
      words: 'add gather hand off',
    },
    ...[1, 2, 3, 4, 5].map((rating) => ({
      title: `Rate ${ratingWords(rating)}`,
      keys: [String(rating)],
      run: () => rate(rating),
      words: 'stars rating like',
    })),
    { title: 'Pass over', keys: ['0'], run: () => rate(0), words: 'rating reject dislike' },
    { title: 'No rating', run: () => rate(null), words: 'unrate' },
    filter.aside
      ? { title: 'Bring the phrase back', keys: ['Delete'], run: bringBack, words: 'restore undelete' }
      : { title: 'Set the phrase aside', keys: ['Delete'], run: setAside, words: 'delete remove discard' },
    {
      title: 'Save the phrase as .mid, as it last left',
      keys: ['Ctrl+e'],
      run: () => selected && void saveLeaving({ kind: 'phrase', id: selected.id }),
      words: 'export download file midi drag',
    },
    {
      title: 'How the phrase leaves',
      keys: ['Ctrl+Shift+e'],
      run: () => selected && openLeave({ kind: 'phrase', id: selected.id }),
      words: 'export save file midi format key recipient',
    },
    {
      title: 'How its sheaf leaves',
      run: () => selected?.sheafId && openLeave({ kind: 'sheaf', id: selected.sheafId }),
      words: 'export save files midi together',
    },
    {
      title: 'Rename or tag the phrase, or change what is known of it',
      run: () => selected && void navigate(`/normalize/${selected.id}`),
      words: 'edit name tags rights project role',
    },
    {
      title: 'What is set aside, or what is kept',
      run: () => filter.setAside(!filter.aside),
      words: 'bin trash',
    },
    { title: 'Play the phrase into a source and record its answer', run: playInto },
    {
      title: 'Sweep a source with the phrase: what it makes of it in many ways',
      run: sweepWith,
      words: 'arpeggiator generator device settings runs',
    },
    { title: 'Search', keys: ['/'], run: search },
    { title: 'Show all', keys: [], run: filter.clear },
    { title: 'Edit the tags', run: editTags, words: 'rename merge under' },
    { title: 'Order by fit', run: () => filter.setSort('fit'), words: 'sort suits project' },
    { title: 'A recipe for all that is found', keys: ['n'], run: openBatch },
    {
      title: 'Through other chords',
      keys: ['c'],
      run: () => {
        const ids = targets().map(({ id }) => id);
        if (ids.length > 0) void navigate(`/reuse/through?of=${ids.slice(0, MOST_THROUGH).join(',')}`);
      },
      words: 'reuse changes chart reharmonize',
    },
    { title: 'The harmony of the library', keys: ['h'], run: () => void navigate('/library/harmony') },
    {
      title: 'What is in the library twice',
      keys: ['d'],
      run: () => void navigate('/library/twice'),
      words: 'duplicates same again',
    },
  ]);
}
