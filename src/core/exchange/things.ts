/** What can leave. */
export const THINGS = ['take', 'phrase', 'sheaf', 'basket', 'weave'] as const;
export type Thing = (typeof THINGS)[number];
