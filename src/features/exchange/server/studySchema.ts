import { Ajv, type ValidateFunction } from 'ajv';
import schema from '../../../../schema/study-1.json' with { type: 'json' };

/** The JSON Schema of study.json, as it lies in each package. */
export const STUDY_SCHEMA = `${JSON.stringify(schema, null, 2)}\n`;

let validate: ValidateFunction | null = null;

/** What of a document is not as the schema says, each with its place; none where it holds. */
export function studyFaults(document: unknown): string[] {
  validate ??= new Ajv({ allErrors: true, allowUnionTypes: true, validateFormats: false }).compile(schema);
  if (validate(document)) return [];
  return (validate.errors ?? []).map((e) => `${e.instancePath || 'it'} ${e.message}`);
}
