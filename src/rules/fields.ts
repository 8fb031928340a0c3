import { IsArray, IsInt, IsISO8601, Matches } from 'class-validator';
import { Amount, Every, Id, Maybe, OneOf, type Rule, Text, Whole, YesNo } from './rules';

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
  (spec: Omit<FieldSpec, 'key'>, rule: Rule): Rule =>
  (target, key) => {
    const known = specs.get(target.constructor) ?? [];
    specs.set(target.constructor, [...known, { ...spec, key: String(key) }]);
    Maybe(rule)(target, key);
  };

/** A measured or stated number with its unit, empty where it has none, and its plausible range. */
export const NumberField = (group: string, label: string, unit: string, [min, max]: [number, number], more?: More): Rule =>
  field(
    { ...wordsOf(group, label, more), ...(unit && { unit }), kind: 'number' },
    Amount(min, max, `${label} should be between ${min} and ${max}${unit && ` ${unit}`}.`),
  );

/** A count. */
export const WholeField = (group: string, label: string, unit: string, [min, max]: [number, number], more?: More): Rule =>
  field(
    { ...wordsOf(group, label, more), ...(unit && { unit }), kind: 'whole' },
    Whole(min, max, `${label} should be a whole number between ${min} and ${max}${unit && ` ${unit}`}.`),
  );

/** A text of up to so many characters. */
export const TextField = (group: string, label: string, most: number, more?: More): Rule =>
  field(
    { ...wordsOf(group, label, more), kind: most > 200 ? 'long' : 'text' },
    Text(0, most, `${label} is a text of up to ${most} characters.`),
  );

/** One of a few words; the keys are stored, the values shown. */
export const ChoiceField = (group: string, label: string, more: Exclude<More, string> & { choices: Record<string, string> }): Rule => {
  const keys = Object.keys(more.choices);
  return field(
    { ...wordsOf(group, label, more), choices: more.choices, kind: 'choice' },
    OneOf(keys, `${label} is one of ${keys.join(', ')}.`),
  );
};

/** Yes or no; nothing said is neither. */
export const YesNoField = (group: string, label: string, more?: More): Rule =>
  field({ ...wordsOf(group, label, more), kind: 'yesno' }, YesNo(`${label} is yes or no.`));

/** A calendar day. */
export const DateField = (group: string, label: string, more?: More): Rule =>
  field(
    { ...wordsOf(group, label, more), kind: 'date' },
    Every(
      IsISO8601({ strict: true }, { message: `${label} is a day of the calendar, such as 2026-06-02.` }),
      Matches(/^(19|20)\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, { message: `${label} is a date such as 2026-06-02.` }),
    ),
  );

/** Another sheet of the shelf, by its number. */
export const RefField = (group: string, label: string, section: string, more?: More): Rule =>
  field({ ...wordsOf(group, label, more), section, kind: 'ref' }, Id(`${label} names a sheet of the shelf by its number.`));

/** Other sheets of the shelf, by their numbers. */
export const RefsField = (group: string, label: string, section: string, more?: More): Rule =>
  field(
    { ...wordsOf(group, label, more), section, kind: 'refs' },
    Every(
      IsInt({ each: true, message: `${label} names sheets of the shelf by their numbers.` }),
      IsArray({ message: `${label} is a list.` }),
    ),
  );
