/** Ages of a plan as typed, such as "0, 7, 14, 30, 60": days from the first run of each mount. */

const MOST_AGES = 30;
const OLDEST_DAYS = 3650;

/** The ages of a text, rising; null where it cannot be read as such. */
export function readAges(text: string): number[] | null {
  const parts = text.split(/[;,\s]+/).filter(Boolean);
  const ages = parts.map(Number);
  const isGood =
    parts.length <= MOST_AGES && ages.every((a, i) => Number.isFinite(a) && a >= 0 && a <= OLDEST_DAYS && (i === 0 || a > ages[i - 1]));
  return isGood ? ages : null;
}

/** What is wrong with a text of ages, as a sentence; null where nothing is. */
export const agesProblem = (text: string): string | null =>
  readAges(text) === null
    ? `Ages are up to ${MOST_AGES} numbers of days from 0 to ${OLDEST_DAYS}, each larger than the one before, such as 0, 7, 14, 30, 60.`
    : null;
