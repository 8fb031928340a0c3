import { IsArray, IsBoolean, IsIn, IsInt, IsISO8601, IsNumber, IsOptional, IsString, Matches, Max, MaxLength, Min } from 'class-validator';

/**
 * Fields of sheets and plans. One decorator a field carries its rule, its words and its unit, so that form, table, CSV and endpoint agree.
 */
export interface FieldSpec {
  key: string;
  label: string;
  group: string;
  kind: 'number' | 'whole' | 'text' | 'long' | 'choice' | 'yesno' | 'date' | 'refs' | 'ref';
  unit?: string;
  hint?: string;
  choices?: Record<string, string>;
  /** shown as a column of its table */
  column?: boolean;
  /** section that a reference leads to */
  section?: string;
}

type Words = Pick<FieldSpec, 'label' | 'group' | 'unit' | 'hint' | 'column'>;

const specs = new Map<unknown, FieldSpec[]>();

/** Fields of a sheet class in the order they are declared, those of its base class last. */
export function fieldsOf(sheet: new () => object): FieldSpec[] {
  const base = Object.getPrototypeOf(sheet);
  return [...(specs.get(sheet) ?? []), ...(typeof base === 'function' && base.prototype ? fieldsOf(base) : [])];
}

const field =
  (spec: Omit<FieldSpec, 'key'>, rules: PropertyDecorator[]): PropertyDecorator =>
  (target, key) => {
    const known = specs.get(target.constructor) ?? [];
    specs.set(target.constructor, [...known, { ...spec, key: String(key) }]);
    for (const rule of [IsOptional(), ...rules]) rule(target, key);
  };

const within = (label: string, min: number, max: number, unit?: string) =>
  `${label} should be between ${min} and ${max}${unit ? ` ${unit}` : ''}.`;

/** A measured or stated number with its unit and plausible range. */
export function NumberField(spec: Words & { min: number; max: number }): PropertyDecorator {
  const { min, max, ...words } = spec;
  const message = within(spec.label, min, max, spec.unit);
  return field({ ...words, kind: 'number' }, [
    Max(max, { message }),
    Min(min, { message }),
    IsNumber({ allowNaN: false, allowInfinity: false }, { message: `${spec.label} is a number.` }),
  ]);
}

/** A count. */
export function WholeField(spec: Words & { min: number; max: number }): PropertyDecorator {
  const { min, max, ...words } = spec;
  const message = within(spec.label, min, max, spec.unit);
  return field({ ...words, kind: 'whole' }, [
    Max(max, { message }),
    Min(min, { message }),
    IsInt({ message: `${spec.label} is a whole number.` }),
  ]);
}

/** A short text. */
export function TextField(spec: Words & { most?: number }): PropertyDecorator {
  const { most = 120, ...words } = spec;
  return field({ ...words, kind: most > 200 ? 'long' : 'text' }, [
    MaxLength(most, { message: `${spec.label} holds up to ${most} characters.` }),
    IsString({ message: `${spec.label} is a text.` }),
  ]);
}

/** One of a few words; the keys are stored, the values shown. */
export const ChoiceField = (spec: Words & { choices: Record<string, string> }): PropertyDecorator =>
  field({ ...spec, kind: 'choice' }, [
    IsIn(Object.keys(spec.choices), { message: `${spec.label} is one of ${Object.keys(spec.choices).join(', ')}.` }),
  ]);

/** Yes or no; nothing said is neither. */
export const YesNoField = (spec: Words): PropertyDecorator =>
  field({ ...spec, kind: 'yesno' }, [IsBoolean({ message: `${spec.label} is yes or no.` })]);

/** A calendar day. */
export const DateField = (spec: Words): PropertyDecorator =>
  field({ ...spec, kind: 'date' }, [
    IsISO8601({ strict: true }, { message: `${spec.label} is a day of the calendar, such as 2026-06-02.` }),
    Matches(/^(19|20)\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, { message: `${spec.label} is a date such as 2026-06-02.` }),
  ]);

/** Another sheet of the shelf, by its number. */
export const RefField = (spec: Words & { section: string }): PropertyDecorator =>
  field({ ...spec, kind: 'ref' }, [IsInt({ message: `${spec.label} names a sheet of the shelf by its number.` })]);

/** Other sheets of the shelf, by their numbers. */
export const RefsField = (spec: Words & { section: string }): PropertyDecorator =>
  field({ ...spec, kind: 'refs' }, [
    IsInt({ each: true, message: `${spec.label} names sheets of the shelf by their numbers.` }),
    IsArray({ message: `${spec.label} is a list.` }),
  ]);
