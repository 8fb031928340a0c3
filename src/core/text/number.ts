/** Numbers as a tester writes them: a true minus sign, fixed honest digits, no negative zero. */
export function write(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  return value < 0 && Number(text) !== 0 ? `−${text}` : text;
}

/** A value with its sign spelled out, as in "+1.9". */
export function writeSigned(value: number, digits: number): string {
  const text = write(value, digits);
  return value > 0 && Number(text) !== 0 ? `+${text}` : text;
}

/** A margin without needless zeros: 1, 0.5, 0.007. */
export const writeMargin = (value: number): string => String(Number(value.toPrecision(2)));
