import { accompaniments } from '../../core/catalog/accompany.ts';
import { candidatesIn, partsReturned } from './came-back.ts';
import { recordedTake } from './recorded-take.ts';
import { changesOfBars } from './changes-of-bars.ts';
import { compOut } from './comp-out.ts';
import { cutPhrases, keptAlready, stepsDone, wholeOf } from './cut-phrases.ts';
import { takeForm } from './form-of-take.ts';
import { habitsIn, habitMoveFor } from './habits-of-take.ts';
import { inventedPhrases } from './invented-phrases.ts';
import { likenesses } from './likenesses.ts';
import { accountAgain, movedTake } from './moved-take.ts';
import {
  filesOut,
  handOffChecks,
  mirroredFiles,
  packedHandOff,
  planOf,
  readyToPack,
} from './packed-hand-off.ts';
import { packAgainstOurs, packIn, phraseIn, withoutFit } from './pack-in.ts';
import type { checkedBank, previewOf } from './preview.ts';
import { batchLook, contentOf, marksAgain } from './phrase-again.ts';
import { exportedPart, exportedParts, filledBars, joinedBlocks, joinedPasses } from './taken-parts.ts';
import { baseFor } from './stored-take.ts';
import { readingFor } from './reading-of-take.ts';
import { sheetOut } from './sheet-out.ts';
import { sweepHeard, sweepRun } from './sweep-run.ts';
import { takenFile } from './taken-file.ts';
import { takeOut, weaveOut } from './things-out.ts';

/** The synthesizer is as large as all the rest: read where something is to be heard. */
const synthesis = () => import('./preview.ts');

/** What threads work out, by name: pure functions of plain data, so that the pages' thread is free to answer. */
export const TASKS = {
  accompaniments,
  accountAgain,
  baseFor,
  batchLook,
  candidatesIn,
  changesOfBars,
  checkedBank: async (...args: Parameters<typeof checkedBank>) => (await synthesis()).checkedBank(...args),
  compOut,
  contentOf,
  cutPhrases,
  exportedPart,
  exportedParts,
  habitMoveFor,
  habitsIn,
  filledBars,
  joinedBlocks,
  joinedPasses,
  inventedPhrases,
  keptAlready,
  likenesses,
  marksAgain,
  mirroredFiles,
  movedTake,
  handOffChecks,
  filesOut,
  packAgainstOurs,
  packIn,
  packedHandOff,
  phraseIn,
  partsReturned,
  planOf,
  previewOf: async (...args: Parameters<typeof previewOf>) => (await synthesis()).previewOf(...args),
  readingFor,
  readyToPack,
  recordedTake,
  sheetOut,
  stepsDone,
  sweepHeard,
  sweepRun,
  takeForm,
  takenFile,
  takeOut,
  weaveOut,
  withoutFit,
  wholeOf,
};

export type Tasks = typeof TASKS;
