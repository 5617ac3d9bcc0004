import { phraseName } from '../phrase/naming.ts';
import { unchanged, type Step } from './step.ts';

export interface NameParams {
  /** Text with tokens in braces: take, part, source, project, role, key, tempo, meter, bars, start, number. */
  pattern: string;
}

/** Names the phrase by a pattern, from what it is when this step comes. */
export const nameByPattern: Step<NameParams> = (clip, { pattern }) => {
  const name = phraseName(pattern, clip);
  return unchanged({ ...clip, name }, `"${name}"`);
};
