import { median } from '#core/stats/quantiles';

/** What was found wrong with the clock of a file. */
export interface ClockRepair {
  /** lasting jumps of an hour by a change to or from summer time that were taken out: where, and seconds added from there on */
  changes: { at_s: number; by_s: number }[];
  /** other lasting steps back, whose size nobody knows: the rows behind them go on one period later */
  steps: { at_s: number; by_s: number }[];
  /** step of a clock that is coarser than the rows, s; its rows were spread evenly */
  coarse_s: number | null;
}

interface ClockContext {
  /** dated local times without a zone, in which an hour may be a change of the clocks */
  local: boolean;
  /** readings, by which a step of the clock is told from a gap */
  columns: Float64Array[];
}

/** Most rows in a row that are taken for a glitch of the clock. */
const MOST_GLITCH = 5;
/** Steps longer than this many periods are looked at. */
const LONG_STEP = 3;
/** A first row further than this many periods from all that follow is none of theirs. */
const FAR = 1000;
const HOUR_S = 3600;
const DAY_S = 86_400;
/** Share of repeated stamps from which a clock counts as coarse, and fewest of them. */
const COARSE_SHARE = 0.2;
const FEWEST_REPEATS = 10;
/** Most steps that the usual one is told from. */
const MOST_STEPS = 100_000;

/**
 * Puts the times of a file right where that is possible, and leaves out the rows whose time is wrong: single jumps that come back, rows
 * that run back or repeat. A lasting step keeps its rows.
 * @param seconds time of each row, NaN where it is none; changed in place
 * @returns indices of the rows that are kept, rising, and what was put right; their times rise strictly
 */
export function repairClock(seconds: Float64Array, context: ClockContext): { kept: Int32Array; repair: ClockRepair } {
  const n = seconds.length;
  const repair: ClockRepair = { changes: [], steps: [], coarse_s: spreadCoarse(seconds) };
  const period = usualStep(seconds);
  const kept = new Int32Array(n);
  let count = 0;
  let last = Number.NaN;
  let shift = 0;
  for (let i = firstRow(seconds, period); i < n; i++) {
    const raw = seconds[i] + shift;
    if (!Number.isFinite(raw)) continue;
    let time = raw;
    if (count > 0) {
      const step = raw - last;
      if (step <= 0 || step > LONG_STEP * period) {
        const back = comesBack(seconds, i, last - shift);
        if (back > i) {
          i = back - 1;
          continue;
        }
        const by = lastingStep(i, kept[count - 1], step, period, context, repair, last);
        shift += by;
        time = raw + by;
        if (!(time > last)) time = last + 0.5 * period;
      }
    }
    seconds[i] = time;
    last = time;
    kept[count++] = i;
  }
  return { kept: kept.subarray(0, count), repair };
}

/** Index of the row, at most five further, at which the times go on from the last good one; −1 where they do not come back. */
function comesBack(seconds: Float64Array, from: number, last: number): number {
  const forward = seconds[from] > last;
  let seen = 0;
  for (let i = from + 1; i < seconds.length && seen < MOST_GLITCH; i++) {
    if (Number.isNaN(seconds[i])) continue;
    seen++;
    if (seconds[i] > last && (!forward || seconds[i] < seconds[from])) return i;
  }
  // a last row alone that jumped cannot come back
  return !forward && seen === 0 ? seconds.length : -1;
}

/** Seconds to add from a row on, because its step lasts; 0 for a plain gap. What it was is noted. */
function lastingStep(
  at: number,
  before: number,
  step: number,
  period: number,
  { local, columns }: ClockContext,
  repair: ClockRepair,
  last: number,
): number {
  const isHour = (size: number) => Math.abs(size - HOUR_S) <= 2 * period;
  if (step <= 0) {
    const size = period - step;
    if (local && isHour(size) && goesOn(columns, before, at)) {
      repair.changes.push({ at_s: last, by_s: HOUR_S });
      return HOUR_S;
    }
    repair.steps.push({ at_s: last, by_s: size });
    return size;
  }
  const hour = (((last % DAY_S) + DAY_S) % DAY_S) / HOUR_S;
  if (local && isHour(step - period) && hour < 4 && goesOn(columns, before, at)) {
    repair.changes.push({ at_s: last, by_s: -HOUR_S });
    return -HOUR_S;
  }
  return 0;
}

/** Readings on either side of a step that its noise is judged by. */
const AROUND = 100;

/** True where the readings go on across a step of the clock as they do beside it, within their noise. */
function goesOn(columns: Float64Array[], before: number, at: number): boolean {
  let judged = 0;
  let continuous = 0;
  for (const values of columns.slice(0, 24)) {
    const steps: number[] = [];
    for (let i = Math.max(1, before - AROUND); i < Math.min(values.length, at + AROUND); i++) {
      if (i !== at) steps.push(Math.abs(values[i] - values[i - 1]));
    }
    const known = steps.filter((s) => !Number.isNaN(s)).sort((a, b) => a - b);
    const jump = Math.abs(values[at] - values[before]);
    if (known.length < 10 || Number.isNaN(jump)) continue;
    judged++;
    if (jump <= 3 * known[Math.floor(0.95 * (known.length - 1))] + 1e-9 * Math.abs(values[at])) continuous++;
  }
  return judged > 0 && continuous >= 0.8 * judged;
}

/** The first row that others follow. */
function firstRow(seconds: Float64Array, period: number): number {
  const known: number[] = [];
  for (let i = 0; i < seconds.length && known.length < 2 * MOST_GLITCH; i++) if (!Number.isNaN(seconds[i])) known.push(i);
  for (const [k, i] of known.slice(0, MOST_GLITCH).entries()) {
    const follows = known.slice(k + 1).some((j) => seconds[j] > seconds[i] && seconds[j] - seconds[i] <= FAR * period);
    if (follows) return i;
  }
  return 0;
}

/** Usual step between rows whose time rises, s; 1 where there is none. */
export function usualStep(seconds: Float64Array): number {
  const stride = Math.max(1, Math.floor((seconds.length - 1) / MOST_STEPS));
  const steps = new Float64Array(Math.max(0, Math.floor((seconds.length - 1) / stride)));
  let n = 0;
  for (let k = 0; k < steps.length; k++) {
    const step = seconds[k * stride + 1] - seconds[k * stride];
    if (step > 0) steps[n++] = step;
  }
  return n === 0 ? 1 : median(steps.subarray(0, n));
}

/**
 * Spreads the rows of a clock that is coarser than they are: rows with the same stamp lie evenly from it to the next.
 * @returns the clock's own step; null where stamps do not repeat regularly
 */
function spreadCoarse(seconds: Float64Array): number | null {
  let repeats = 0;
  for (let i = 1; i < seconds.length; i++) if (seconds[i] === seconds[i - 1]) repeats++;
  if (repeats < FEWEST_REPEATS || repeats < COARSE_SHARE * seconds.length) return null;
  const step = usualStep(seconds.filter((v, i) => i === 0 || v !== seconds[i - 1]));
  const most = Math.max(3, 3 * (seconds.length / (seconds.length - repeats)));
  for (let from = 0; from < seconds.length; ) {
    let to = from + 1;
    while (to < seconds.length && seconds[to] === seconds[from]) to++;
    const count = to - from;
    const next = to < seconds.length ? seconds[to] - seconds[from] : step;
    const reach = next > 0 && next <= 2 * step ? next : step;
    // many more than usual are a clock that stands still, not a coarse one
    if (count > 1 && count <= most) for (let i = from + 1; i < to; i++) seconds[i] = seconds[from] + (reach * (i - from)) / count;
    from = to;
  }
  return step;
}
