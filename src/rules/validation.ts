import { plainToInstance } from 'class-transformer';
import { type ValidationError, validateSync } from 'class-validator';

/** What was sent does not keep the rules of its class; one sentence per field. */
export class RuleError extends Error {
  constructor(readonly sentences: string[]) {
    super(sentences.join(' '));
    this.name = 'RuleError';
  }
}

/**
 * Turns plain data into an instance of its class and checks its rules.
 * @throws RuleError with a sentence for each field that breaks a rule
 */
export function check<T extends object>(type: new () => T, plain: unknown): T {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain))
    throw new RuleError(['An object with named fields is expected.']);
  const instance = plainToInstance(type, plain);
  const errors = validateSync(instance, { whitelist: true, forbidUnknownValues: true });
  if (errors.length > 0) throw new RuleError(sentencesOf(errors));
  return instance;
}

/** One sentence a field: of several broken rules the one declared first, which the others rest on. */
const sentencesOf = (errors: ValidationError[]): string[] =>
  errors.flatMap((e) => [...Object.values(e.constraints ?? {}).slice(-1), ...sentencesOf(e.children ?? [])]);
