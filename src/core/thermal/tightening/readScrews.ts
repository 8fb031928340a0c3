import { plural } from '#core/text/words';
import type { Screw } from './order';

const LEAST_SCREWS = 2;
const MOST_SCREWS = 12;

/**
 * Screw positions as they are typed: "x, y; x, y …" in mm from the middle of the part, or a pair a line.
 * @returns the screws, or a sentence that says what is wrong
 */
export function readScrews(text: string): { screws: Screw[] } | { problem: string } {
  const pairs = text
    .split(/[;\n]/)
    .map((p) => p.trim())
    .filter((p) => p !== '');
  const screws: Screw[] = [];
  for (const pair of pairs) {
    const numbers = pair
      .replaceAll('−', '-')
      .split(/[\s,]+/)
      .map(Number);
    if (numbers.length !== 2 || !numbers.every((v) => Number.isFinite(v) && Math.abs(v) <= 1000))
      return { problem: `"${pair.slice(0, 40)}" is no place of a screw: x and y in mm, such as −40, −30.` };
    if (screws.some((s) => Math.hypot(s.x - numbers[0], s.y - numbers[1]) < 0.5))
      return { problem: `Two screws are at ${numbers[0]}, ${numbers[1]} mm.` };
    screws.push({ x: numbers[0], y: numbers[1] });
  }
  if (screws.length < LEAST_SCREWS || screws.length > MOST_SCREWS)
    return { problem: `A cooler is held by ${LEAST_SCREWS} to ${MOST_SCREWS} screws; ${plural(screws.length, 'is', 'are')} given.` };
  return { screws };
}
