/** Powers of ten that a double holds exactly. */
const TENS = Array.from({ length: 23 }, (_, i) => 10 ** i);
/** Most digits whose integer a double holds exactly. */
const MOST_DIGITS = 15;

/** Where the number that was read last ends. */
export const scanned = { end: 0 };

/**
 * Reads a plain decimal number straight from bytes: a sign, digits, a decimal sign, digits. The result is the double nearest to the
 * decimal, as the digits and the power of ten are both exact. Anything else is left to the caller.
 * @param decimal byte of the decimal sign
 * @returns NaN where the bytes are no such number; else its value, with `scanned.end` behind its last digit
 */
export function scanNumber(bytes: Uint8Array, from: number, to: number, decimal: number): number {
  let at = from;
  const negative = bytes[at] === 45;
  if (negative || bytes[at] === 43) at++;
  let value = 0;
  let digits = 0;
  let fraction = 0;
  for (; at < to; at++) {
    const d = bytes[at] - 48;
    if (d < 0 || d > 9) break;
    value = value * 10 + d;
    digits++;
  }
  if (at < to && bytes[at] === decimal) {
    at++;
    const first = at;
    for (; at < to; at++) {
      const d = bytes[at] - 48;
      if (d < 0 || d > 9) break;
      value = value * 10 + d;
    }
    fraction = at - first;
    digits += fraction;
  }
  if (digits === 0 || digits > MOST_DIGITS) return Number.NaN;
  scanned.end = at;
  const size = fraction === 0 ? value : value / TENS[fraction];
  return negative ? -size : size;
}
