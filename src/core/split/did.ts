import type { Move } from './moves.ts';

/** What was done by a kind of move, in words that go on after a name. */
const DID: Readonly<Record<Move['move'], string>> = {
  rename: 'renamed a part',
  role: 'said what a part is',
  sound: 'chose the sound of a part',
  setAside: 'set notes aside',
  bringBack: 'brought notes back',
  merge: 'merged parts',
  divide: 'took a part apart',
  give: 'gave notes to a part',
  lock: 'said which notes are key switches',
  pitchMap: 'said how a part is mapped',
  weigh: 'said how much a part counts',
  refuse: 'refused a proposal',
  together: 'did several things to it',
  nameTake: 'renamed it',
  chooseKey: 'chose its key',
  retime: 'put its bars right',
  asCaptured: 'went back to its time as captured',
  meter: 'said its meter',
  end: 'said where it ends',
  repitch: 'put pitches right',
  chord: 'said a chord',
  recipe: 'said how its phrases are made',
  sections: 'said its sections',
  hearAnew: 'had it heard anew',
};

/** What somebody did by a move: "renamed a part". */
export function didWords({ move }: Move): string {
  return DID[move];
}
