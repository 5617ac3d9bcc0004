import type { Along, Fate, MergeWay } from '../../core/exchange/merge.ts';

export const FATE_WORDS: Readonly<Record<Fate, string>> = {
  same: 'the same',
  'theirs changed': 'changed by them',
  'ours changed': 'changed here',
  'both changed': 'changed on both sides',
  new: 'new',
  'not sent back': 'not sent back',
};

export const WAY_WORDS: Readonly<Record<MergeWay, string>> = {
  same: 'left as it is',
  child: 'taken as a child of ours',
  theirs: 'taken instead of ours',
  ours: 'left: ours stays',
  both: 'taken beside ours',
};

export const ALONG_WORDS: Readonly<Record<keyof Along, string>> = {
  tags: 'their tags',
  changes: 'their chords',
  sound: 'sound, level and place',
};
