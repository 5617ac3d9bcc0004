import equal from 'fast-deep-equal';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { PhraseEdit } from '../../core/merge/phrase-edits.ts';
import type { Place } from '../../server/library/phrases/places.ts';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { request } from '../api/client.ts';
import { tellProblem, type PhraseWire } from '../api/queries.ts';
import { ownCopyOf } from '../shared/phrases/own-copy.ts';
import { exchange, placesInWords, placesOf } from '../shared/phrases/places.ts';
import { setPhraseState } from '../shared/phrases/state.ts';
import { put, type PhraseHistory, type useSave } from './SaveBox.tsx';

/** Phrases of which it was said in this window that all places get what is changed. */
const boundEverywhere = new Set<string>();

/** Whether two edits of a phrase are heard otherwise. */
function soundsOtherwise(one: PhraseEdit, other: PhraseEdit): boolean {
  const heard = ({ recipe, fitting, takeKey, role }: PhraseEdit) => ({ recipe, fitting, takeKey, role });
  return !equal(heard(one), heard(other));
}

/** Saving that asks first, once, where what is heard in several places would change. */
export function useAskedSave(phrase: PhraseWire, history: PhraseHistory, save: ReturnType<typeof useSave>) {
  const [places, setPlaces] = useState<Place[] | null>(null);
  const navigate = useNavigate();
  const saveAll = () => save.mutate({ keepSheaf: false });
  const ask = async () => {
    const asks =
      phrase.state === 'kept' &&
      !boundEverywhere.has(phrase.id) &&
      soundsOtherwise(history.value, history.base);
    const found = asks ? await placesOf([phrase.id]) : [];
    if (found.length > 1) setPlaces(found);
    else saveAll();
  };
  const copyFor = async (some: Place[]) => {
    const id = await ownCopyOf(phrase, phrase.projectId);
    const made = await request<PhraseWire>(`/api/phrases/${id}`);
    await put(id, { ...history.value, name: made.name }, 'kept', { basedOn: made.updatedAt });
    await exchange(phrase.id, id, some);
    // What was changed is in the copy: here it is as it was.
    history.settle(history.base);
    void navigate(`/normalize/${id}`);
    toastWithUndo(
      `"${made.name}" is in ${placesInWords(some)}. "${phrase.name}" stays as it was.`,
      'the copy',
      () =>
        exchange(id, phrase.id, some)
          .then(() => setPhraseState([id], 'discarded'))
          .catch(tellProblem),
    );
  };
  return {
    save: () => void ask().catch(tellProblem),
    /** Where it is used, while it is asked. */
    places,
    close: () => setPlaces(null),
    everywhere: () => {
      boundEverywhere.add(phrase.id);
      setPlaces(null);
      saveAll();
    },
    copyFor: (some: Place[]) => {
      setPlaces(null);
      void copyFor(some).catch(tellProblem);
    },
  };
}
