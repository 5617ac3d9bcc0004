import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { NOTHING_KNOWN, type Known } from '../shared/takes/known.ts';

/** What is said of the files that come in next: remembered, for they usually come from where the last ones did. */
export const useKnownOfNext = create<{ known: Known }>()(
  persist(() => ({ known: NOTHING_KNOWN }), { name: 'known of next files' }),
);

export function setKnownOfNext(known: Known): void {
  useKnownOfNext.setState({ known });
}
