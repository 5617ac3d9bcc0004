import { removePreset } from '../../../server/library/presets.ts';
import { endpoint, pathId } from '../_answer.ts';

export const DELETE = endpoint(({ db }, context) => removePreset(db, pathId(context)));
