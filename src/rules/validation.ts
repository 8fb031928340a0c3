import { plainToInstance } from 'class-transformer';
import { registerDecorator, type ValidationError, type ValidationOptions, validateSync } from 'class-validator';

/** Every value of a record is one of the words allowed, and there are no more than 500 of them. */
export function ValuesIn(words: readonly string[], options?: ValidationOptions) {
  return (target: object, propertyName: string) => {
    registerDecorator({
      name: 'valuesIn',
      target: target.constructor,
      propertyName,
      options: { message: `${propertyName}: each value should be one of ${words.join(', ')}.`, ...options },
      validator: {
        validate(value: unknown) {
          if (typeof value !== 'object' || value === null || Array.isArray(value)) return false;
          const entries = Object.values(value);
          return entries.length <= 500 && entries.every((v) => typeof v === 'string' && words.includes(v));
        },
      },
    });
  };
}

/** Every value of a record is a finite number. */
export function NumbersIn(options?: ValidationOptions) {
  return (target: object, propertyName: string) => {
    registerDecorator({
      name: 'numbersIn',
      target: target.constructor,
      propertyName,
      options: { message: `${propertyName}: each value should be a number of seconds.`, ...options },
      validator: {
        validate(value: unknown) {
          return (
            typeof value === 'object' && value !== null && Object.values(value).every((v) => typeof v === 'number' && Number.isFinite(v))
          );
        },
      },
    });
  };
}

/** A text that is read further; the reader says what is wrong with it, null where nothing is. */
export function Reads(problemOf: (text: string) => string | null) {
  return (target: object, propertyName: string) => {
    registerDecorator({
      name: 'reads',
      target: target.constructor,
      propertyName,
      options: { message: ({ value }) => problemOf(String(value)) ?? '' },
      validator: { validate: (value: unknown) => typeof value !== 'string' || value.trim() === '' || problemOf(value) === null },
    });
  };
}

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
function sentencesOf(errors: ValidationError[]): string[] {
  return errors.flatMap((e) => [...Object.values(e.constraints ?? {}).slice(-1), ...sentencesOf(e.children ?? [])]);
}
