import { mean } from '#core/stats/moments';

/** How a step of a stability ladder ended. */
export const STEP_ENDS = { passed: 'Passed', failed: 'Failed', hung: 'Hung', did_not_start: 'Did not start' } as const;
export type StepEnd = keyof typeof STEP_ENDS;

/** One step of a ladder as it was tried on a mount. */
export interface TriedStep {
  clock_mhz: number;
  /** V; null where the voltage was left as it was */
  voltage_v: number | null;
  end: StepEnd;
  /** °C, where it was read */
  temperature_c: number | null;
  /** how long it was held, s */
  held_s: number | null;
}

/** How far a mount came on a ladder, by the steps that were tried. */
export interface Reached {
  /** highest clock or lowest voltage that passed with all easier ones; null where the easiest step failed */
  value: number | null;
  /** what every tried step is a bound of: all passed, so that the true value lies beyond */
  beyond: boolean;
  /** the easiest step, which failed, where none passed: the true value lies short of it */
  short_of: number | null;
  /** a step passed above one that did not */
  not_monotone: boolean;
  /** distance to the next harder step, else to the easier one: how finely it is known; null with one step */
  step: number | null;
}

/**
 * The hardest of a row of steps that passed with every easier one.
 * @param steps in the order from easy to hard, one a level
 */
function hardestPassed(steps: { level: number; passed: boolean }[]): Reached {
  const stop = steps.findIndex((s) => !s.passed);
  const last = stop === -1 ? steps.length - 1 : stop - 1;
  const gap = (i: number) => (i >= 0 && i + 1 < steps.length ? Math.abs(steps[i + 1].level - steps[i].level) : null);
  return {
    value: last < 0 ? null : steps[last].level,
    beyond: stop === -1,
    short_of: last < 0 ? steps[0].level : null,
    not_monotone: stop !== -1 && steps.slice(stop).some((s) => s.passed),
    step: gap(Math.max(last, 0)) ?? gap(last - 1),
  };
}

/** A level tried several times passed where it passed every time. */
function byLevel(steps: TriedStep[], level: (s: TriedStep) => number): { level: number; passed: boolean }[] {
  const ends = new Map<number, boolean>();
  for (const s of steps) ends.set(level(s), (ends.get(level(s)) ?? true) && s.end === 'passed');
  return [...ends].map(([at, passed]) => ({ level: at, passed })).sort((a, b) => a.level - b.level);
}

/** Voltages of a ladder, V, lowest first; null stands for one that was left as it was. */
export const ladderVoltages = (steps: Pick<TriedStep, 'voltage_v'>[]): (number | null)[] =>
  [...new Set(steps.map((s) => s.voltage_v))].sort((a, b) => (a ?? 0) - (b ?? 0));

/** Clocks that were tried at several voltages, MHz, lowest first. */
export const clocksOfSeveralVoltages = (steps: TriedStep[]): number[] =>
  [...new Set(steps.map((s) => s.clock_mhz))]
    .filter((clock) => ladderVoltages(steps.filter((s) => s.clock_mhz === clock)).length > 1)
    .sort((a, b) => a - b);

/**
 * Highest clock that passed at a voltage with every lower clock that was tried there (method, §9).
 * @returns null where no step was tried at it
 */
export function highestClock(steps: TriedStep[], voltage_v: number | null): Reached | null {
  const own = steps.filter((s) => s.voltage_v === voltage_v);
  return own.length === 0 ? null : hardestPassed(byLevel(own, (s) => s.clock_mhz));
}

/**
 * Lowest voltage at which a clock passed with every higher voltage that was tried for it.
 * @returns null where fewer than two voltages were tried for it
 */
export function lowestVoltage(steps: TriedStep[], clock_mhz: number): Reached | null {
  const own = steps.filter((s) => s.clock_mhz === clock_mhz && s.voltage_v !== null);
  const levels = byLevel(own, (s) => s.voltage_v ?? 0).reverse();
  return levels.length < 2 ? null : hardestPassed(levels);
}

/**
 * Mean of the highest clock over a range of voltages, by trapezes: two mounts' means differ by the area between their curves over the
 * range.
 * @param voltages at least two, V
 * @returns null where a voltage was not tried
 */
export function meanClock(steps: TriedStep[], voltages: number[]): Reached | null {
  const at = [...voltages].sort((a, b) => a - b);
  const reached = at.map((v) => highestClock(steps, v));
  if (at.length < 2 || reached.some((r) => r === null)) return null;
  const known = reached as Reached[];
  const overRange = (of: (r: Reached) => number) =>
    known.slice(1).reduce((sum, r, i) => sum + ((of(known[i]) + of(r)) / 2) * (at[i + 1] - at[i]), 0) / (at[at.length - 1] - at[0]);
  const short = known.some((r) => r.value === null);
  const bound = overRange((r) => r.value ?? r.short_of ?? 0);
  const gaps = known.flatMap((r) => r.step ?? []);
  return {
    value: short ? null : bound,
    beyond: known.some((r) => r.beyond),
    short_of: short ? bound : null,
    not_monotone: known.some((r) => r.not_monotone),
    step: gaps.length === 0 ? null : mean(gaps),
  };
}
