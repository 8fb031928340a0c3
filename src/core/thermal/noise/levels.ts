/** Sound pressure levels in dB. They add and subtract as energies, never as numbers. */

/** Under this much above the floor a level cannot be told from it (ISO 3746 allows no correction from there on). */
export const LEAST_ABOVE_FLOOR_DB = 3;

const energy = (level: number) => 10 ** (level / 10);

/** Level of the mean energy of several readings. Throws for none. */
export function energeticAverage(levels: number[]): number {
  if (levels.length === 0) throw new Error('There is no sound reading to average.');
  return 10 * Math.log10(levels.reduce((sum, l) => sum + energy(l), 0) / levels.length);
}

/** Level of the source alone; null where the reading does not exceed the background. */
export function backgroundCorrected(level: number, background: number): number | null {
  // 10^(L/10) − 10^(L₀/10) = 10^(L/10)·(1 − 10^((L₀ − L)/10)), which keeps its digits where the two are close
  const rest = -Math.expm1(((background - level) * Math.LN10) / 10);
  return rest > 0 ? level + 10 * Math.log10(rest) : null;
}

/** A source's level as far as its floor lets it be told. */
interface SourceLevel {
  /** dB; an upper bound where `bound` says so */
  level: number;
  bound: 'value' | 'at_most';
}

/**
 * Takes the room out of a reading. Nearer than 3 dB to the floor the correction grows without end, so that only a bound is told: what a
 * reading 3 dB above its floor would give.
 * @param floor level of the room with the source off; null where it was not measured, which leaves the reading as it is
 */
export function sourceLevel(level: number, floor: number | null): SourceLevel {
  if (floor === null) return { level, bound: 'value' };
  if (level - floor < LEAST_ABOVE_FLOOR_DB) {
    const most = backgroundCorrected(Math.max(level, floor), Math.max(level, floor) - LEAST_ABOVE_FLOOR_DB) as number;
    return { level: most, bound: 'at_most' };
  }
  return { level: backgroundCorrected(level, floor) as number, bound: 'value' };
}

/**
 * Level at another distance from a small source in the open: 20·lg of the ratio. Near the source, or where walls reflect, it falls by less.
 * @param from distance of the reading, m
 * @param to distance asked for, m
 */
export const atDistance = (level: number, from: number, to: number): number => level + 20 * Math.log10(from / to);
