/** Readings no working temperature probe gives, °C. */
const BROKEN_C = -127;
const OVERFLOW_C = 655.35;
/** A stretch at exactly 0.0 this long, of at least so many readings, beside a jump of so many kelvin is a probe without contact. */
const NOUGHT_S = 10;
const NOUGHT_SAMPLES = 3;
const NOUGHT_JUMP_K = 3;

/** True for the values that drivers give in place of a temperature. */
export const isImpossible = (value: number): boolean => Math.abs(value - BROKEN_C) < 0.01 || Math.abs(value - OVERFLOW_C) < 0.01;

/**
 * Readings of a probe that are none: impossible values, those outside what may be, and stretches at exactly 0.0 that begin or end with a
 * jump.
 * @param band °C within which readings may lie; null for none
 * @returns 1 for readings to be left out; null where there are none
 */
export function impossibleReadings(t: Float64Array, values: Float64Array, band: [number, number] | null): Uint8Array | null {
  let flags: Uint8Array | null = null;
  const flag = (i: number) => {
    flags ??= new Uint8Array(values.length);
    flags[i] = 1;
  };
  let nought = -1;
  let before = Number.NaN;
  for (let i = 0; i <= values.length; i++) {
    const v = i < values.length ? values[i] : Number.NaN;
    if (v === 0) {
      if (nought < 0) nought = i;
      continue;
    }
    if (i < values.length && Number.isNaN(v)) continue;
    if (nought >= 0) {
      const end = i < values.length ? t[i] : t[values.length - 1];
      const jumps = Math.abs(before) > NOUGHT_JUMP_K || Math.abs(v) > NOUGHT_JUMP_K;
      if (jumps && end - t[nought] > NOUGHT_S && i - nought >= NOUGHT_SAMPLES) for (let k = nought; k < i; k++) flag(k);
      nought = -1;
    }
    if (i === values.length) break;
    before = v;
    if (isImpossible(v) || (band !== null && (v < band[0] || v > band[1]))) flag(i);
  }
  return flags;
}
