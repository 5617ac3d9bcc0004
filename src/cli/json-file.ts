import { readFileSync } from 'node:fs';
import { ValidationError, type InferType, type Schema } from 'yup';
import { Refusal } from './output.ts';

/** A JSON file, checked. @throws Refusal where it cannot be read, is no JSON, or is not as the schema asks */
export function readJson<Asked extends Schema>(file: string, schema: Asked): InferType<Asked> {
  let given: unknown;
  try {
    given = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new Refusal(
      `${file}: ${error instanceof SyntaxError ? `this is no JSON: ${error.message}` : 'it cannot be read'}.`,
    );
  }
  try {
    return schema.validateSync(given) as InferType<Asked>;
  } catch (error) {
    if (error instanceof ValidationError) throw new Refusal(`${file}: ${error.message}.`);
    throw error;
  }
}
