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

/** Words beside a field's label; a text alone is its hint. */
type More = string | Pick<FieldSpec, 'unit' | 'hint' | 'column'>;

const wordsOf = (group: string, label: string, more: More = {}) => ({
  group,
  label,
  ...(typeof more === 'string' ? { hint: more } : more),
});

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

/** A measured or stated number with its unit, empty where it has none, and its plausible range. */
export function NumberField(group: string, label: string, unit: string, [min, max]: [number, number], more?: More): PropertyDecorator {
  const message = within(label, min, max, unit);
  return field({ ...wordsOf(group, label, more), ...(unit && { unit }), kind: 'number' }, [
    Max(max, { message }),
    Min(min, { message }),
    IsNumber({ allowNaN: false, allowInfinity: false }, { message: `${label} is a number.` }),
  ]);
}

/** A count. */
export function WholeField(group: string, label: string, unit: string, [min, max]: [number, number], more?: More): PropertyDecorator {
  const message = within(label, min, max, unit);
  return field({ ...wordsOf(group, label, more), ...(unit && { unit }), kind: 'whole' }, [
    Max(max, { message }),
    Min(min, { message }),
    IsInt({ message: `${label} is a whole number.` }),
  ]);
}

/** A text of up to so many characters. */
export const TextField = (group: string, label: string, most: number, more?: More): PropertyDecorator =>
  field({ ...wordsOf(group, label, more), kind: most > 200 ? 'long' : 'text' }, [
    MaxLength(most, { message: `${label} holds up to ${most} characters.` }),
    IsString({ message: `${label} is a text.` }),
  ]);

/** One of a few words; the keys are stored, the values shown. */
export const ChoiceField = (group: string, label: string, more: Exclude<More, string> & { choices: Record<string, string> }) =>
  field({ ...wordsOf(group, label, more), choices: more.choices, kind: 'choice' }, [
    IsIn(Object.keys(more.choices), { message: `${label} is one of ${Object.keys(more.choices).join(', ')}.` }),
  ]);

/** Yes or no; nothing said is neither. */
export const YesNoField = (group: string, label: string, more?: More): PropertyDecorator =>
  field({ ...wordsOf(group, label, more), kind: 'yesno' }, [IsBoolean({ message: `${label} is yes or no.` })]);

/** A calendar day. */
export const DateField = (group: string, label: string, more?: More): PropertyDecorator =>
  field({ ...wordsOf(group, label, more), kind: 'date' }, [
    IsISO8601({ strict: true }, { message: `${label} is a day of the calendar, such as 2026-06-02.` }),
    Matches(/^(19|20)\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, { message: `${label} is a date such as 2026-06-02.` }),
  ]);

/** Another sheet of the shelf, by its number. */
export const RefField = (group: string, label: string, section: string, more?: More): PropertyDecorator =>
  field({ ...wordsOf(group, label, more), section, kind: 'ref' }, [
    IsInt({ message: `${label} names a sheet of the shelf by its number.` }),
  ]);

/** Other sheets of the shelf, by their numbers. */
export const RefsField = (group: string, label: string, section: string, more?: More): PropertyDecorator =>
  field({ ...wordsOf(group, label, more), section, kind: 'refs' }, [
    IsInt({ each: true, message: `${label} names sheets of the shelf by their numbers.` }),
    IsArray({ message: `${label} is a list.` }),
  ]);
