/** Discarded is set aside: nothing is ever deleted. */
export const PHRASE_STATES = ['draft', 'kept', 'discarded'] as const;
export type PhraseState = (typeof PHRASE_STATES)[number];
