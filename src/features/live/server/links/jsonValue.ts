import type { Unit } from '#core/units/units';
import { type RefusedReading, readAnswer } from '../readAnswer';

/** Largest text of JSON that is read, characters. */
export const LONGEST_JSON = 256 * 1024;

/** What JSON holds at a place; undefined where it has no such place. */
export function valueAt(json: unknown, path: string[]): unknown {
  let at = json;
  for (const key of path) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, key)) return undefined;
    at = (at as Record<string, unknown>)[key];
  }
  return at;
}

/**
 * A figure of JSON in the core's units; text is read as an instrument's answer is, so "23.4 °C" is one where its unit is the sheet's.
 * @param where as the sheet names the place
 */
export function figureOf(value: unknown, unit: Unit | null, where: string): { value: number; refused: RefusedReading[] } {
  const none = (code: RefusedReading['code'], message: string) => ({ value: Number.NaN, refused: [{ code, message }] });
  if (value === undefined) return none('nonsense', `There is nothing at ${where}.`);
  if (value === null) return none('not_a_number', `It says that it has no reading at ${where} (null).`);
  if (typeof value === 'boolean') return { value: value ? 1 : 0, refused: [] };
  if (typeof value === 'object') return none('nonsense', `What stands at ${where} is not one figure.`);
  const { values, refused } = readAnswer(String(value).trim().slice(0, 200), [unit]);
  return { value: values[0], refused };
}
