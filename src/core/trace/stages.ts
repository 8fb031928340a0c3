import { median, quantile, runningMedian, sortedKnown, sortedQuantile } from '../stats/quantiles';
import { halfWidth } from './drive';
import type { Drive, Span } from './types';

export interface StageSpan extends Span {
  stage: 'idle' | 'boost' | 'sustained' | 'cooldown';
}

/** Shortest stretch that counts as a level of its own, s. */
const LEVEL_S = 20;
/** A boost right at the start of the load may be shorter. */
const FIRST_LEVEL_S = 10;
const LEVEL_CHANGE = 0.05;
/** A level this share of the way from idle to load already counts as load. */
const LOAD_SHARE = 0.3;

/**
 * Splits a run into idle, boost, sustained and cool-down.
 * @param causedByThrottle whether a change of the drive at a time was the governor's doing; such a change does not split
 * @returns null where the drive shows no load
 */
export function findStages(drive: Drive, causedByThrottle: (at_s: number) => boolean): StageSpan[] | null {
  const load = drive.kind === 'temperature' ? loadFromRate(drive) : loadFromLevel(drive);
  if (!load) return null;
  const start = drive.t[0];
  const end = drive.t[drive.t.length - 1];
  const edges = splitLevels(drive, load).filter((at) => !causedByThrottle(at));
  const cuts = [drive.t[load.from], ...edges, load.to < drive.t.length ? drive.t[load.to] : end];
  const stages: StageSpan[] = [];
  if (cuts[0] > start) stages.push({ stage: 'idle', start_s: start, end_s: cuts[0] });
  for (let i = 0; i + 1 < cuts.length; i++) {
    stages.push({ stage: i + 2 < cuts.length ? 'boost' : 'sustained', start_s: cuts[i], end_s: cuts[i + 1] });
  }
  const last = cuts[cuts.length - 1];
  if (load.to < drive.t.length) stages.push({ stage: 'cooldown', start_s: last, end_s: end });
  return stages;
}

/** Samples [from, to) under load. */
interface LoadRange {
  from: number;
  to: number;
}

/** The longest stretch above the two-class threshold; dips shorter than 20 s do not end it. */
function loadFromLevel(drive: Drive): LoadRange | null {
  const sorted = sortedKnown(drive.values);
  const high = sortedQuantile(sorted, 0.98);
  const low = sortedQuantile(sorted, 0.02);
  if (!(high - low >= 0.2 * Math.abs(high))) return null;
  const threshold = classThreshold(sorted);
  let best: LoadRange | null = null;
  let from = -1;
  let lastHigh = -1;
  const close = () => {
    if (from < 0) return;
    const range = { from, to: lastHigh + 1 };
    if (!best || drive.t[range.to - 1] - drive.t[range.from] > drive.t[best.to - 1] - drive.t[best.from]) best = range;
    from = -1;
  };
  for (let i = 0; i < drive.t.length; i++) {
    if (from >= 0 && drive.t[i] - drive.t[lastHigh] > LEVEL_S && !(drive.values[i] > threshold)) close();
    if (drive.values[i] > threshold) {
      if (from < 0) from = i;
      lastHigh = i;
    }
  }
  close();
  return best;
}

/**
 * Threshold between two classes (Otsu 1979), kept between idle and everything that counts as load:
 * where a long boost makes the best split fall between two load levels, or two idle levels lie apart, the split is moved.
 */
export function twoClassThreshold(values: Float64Array): number {
  return classThreshold(sortedKnown(values));
}

function classThreshold(sorted: Float64Array): number {
  const split = moveSplit(sorted, otsuSplit(sorted));
  return (meanOf(sorted.subarray(0, split)) + meanOf(sorted.subarray(split))) / 2;
}

function moveSplit(sorted: Float64Array, split: number): number {
  const level = (from: number, to: number) => meanOf(sorted.subarray(from, to));
  const below = otsuSplit(sorted.subarray(0, split));
  const top = level(split, sorted.length);
  if (below > 0 && (level(below, split) - level(0, below)) / (top - level(0, below)) > LOAD_SHARE) return below;
  const above = split + otsuSplit(sorted.subarray(split));
  const bottom = level(0, split);
  if (above > split && (level(split, above) - bottom) / (level(above, sorted.length) - bottom) < LOAD_SHARE) return above;
  return split;
}

/** Number of values in the lower class of the split with the largest variance between classes. */
function otsuSplit(sorted: Float64Array): number {
  const total = sorted.length * (meanOf(sorted) || 0);
  let sum = 0;
  let best = 0;
  let split = 0;
  for (let i = 1; i < sorted.length; i++) {
    sum += sorted[i - 1];
    if (sorted[i] === sorted[i - 1]) continue;
    const gap = (total - sum) / (sorted.length - i) - sum / i;
    const between = i * (sorted.length - i) * gap * gap;
    if (between > best) {
      best = between;
      split = i;
    }
  }
  return split;
}

function meanOf(values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return values.length === 0 ? Number.NaN : sum / values.length;
}

/** Times inside the load at which the level changes by over 5 % for over 20 s. */
function splitLevels(drive: Drive, load: LoadRange): number[] {
  if (drive.kind === 'temperature') return [];
  const values = drive.values.subarray(load.from, load.to);
  const t = drive.t.subarray(load.from, load.to);
  // levels last for many seconds, so that of denser samples about one a second tells them; where they change is sought among all
  const every = Math.max(1, Math.floor(1 / drive.period_s));
  const thin = every === 1 ? values : Float64Array.from({ length: Math.ceil(values.length / every) }, (_, i) => values[i * every]);
  const h = Math.max(1, halfWidth(LEVEL_S, drive.period_s * every));
  const level = runningMedian(thin, h);
  const left = (i: number) => level[i - h - 1];
  const right = (i: number) => level[Math.min(i + h, thin.length - 1)];
  const changes = (i: number) => Math.abs(right(i) / left(i) - 1) > LEVEL_CHANGE;
  const cuts: number[] = [];
  for (let i = h + 1; i < thin.length - h; i++) {
    if (!changes(i)) continue;
    const from = i;
    while (i + 1 < thin.length - h && changes(i + 1)) i++;
    cuts.push(locateStep(values, Math.max(0, (from - h) * every), Math.min(values.length, (i + h) * every), left(from), right(i)));
  }
  return mergeLevels(values, t, cuts).map((i) => t[i]);
}

/** Index in [from, to) at which two levels explain the samples best, by absolute deviations. */
function locateStep(values: Float64Array, from: number, to: number, before: number, after: number): number {
  let cost = 0;
  for (let i = from; i < to; i++) cost += Math.abs(values[i] - after);
  let best = cost;
  let at = from;
  for (let i = from; i < to; i++) {
    cost += Math.abs(values[i] - before) - Math.abs(values[i] - after);
    if (cost < best) {
      best = cost;
      at = i + 1;
    }
  }
  return at;
}

/** Takes away cuts between levels that are alike, and levels that last too short to be one. */
function mergeLevels(values: Float64Array, t: Float64Array, cuts: number[]): number[] {
  const kept = [...cuts];
  for (;;) {
    const edges = [0, ...kept, values.length];
    const levels = edges.slice(1).map((to, i) => median(values.subarray(edges[i], to)));
    const lasts = (i: number) => t[edges[i + 1] - 1] - t[edges[i]];
    const short = levels.length === 1 ? -1 : levels.findIndex((_, i) => lasts(i) < (i === 0 ? FIRST_LEVEL_S : LEVEL_S));
    if (short >= 0) {
      const nearerLeft =
        short === levels.length - 1 || (short > 0 && Math.abs(levels[short] - levels[short - 1]) <= Math.abs(levels[short] - levels[short + 1]));
      kept.splice(nearerLeft ? short - 1 : short, 1);
      continue;
    }
    const alike = levels.findIndex((v, i) => i > 0 && Math.abs(v / levels[i - 1] - 1) <= LEVEL_CHANGE);
    if (alike < 0) return kept;
    kept.splice(alike - 1, 1);
  }
}

/** Without any drive: load from the fastest rise to the fastest fall of the temperature. */
function loadFromRate(drive: Drive): LoadRange | null {
  const h = Math.max(1, Math.round(5 / drive.period_s));
  const rate = drive.values.map((_, i) => {
    const from = Math.max(0, i - h);
    const to = Math.min(drive.values.length - 1, i + h);
    return to > from ? (drive.values[to] - drive.values[from]) / (drive.t[to] - drive.t[from]) : 0;
  });
  const range = quantile(drive.values, 0.98) - quantile(drive.values, 0.02);
  if (!(range > 5)) return null;
  let peak = 0;
  for (let i = 0; i < rate.length; i++) if (rate[i] > rate[peak]) peak = i;
  let from = peak;
  while (from > 0 && rate[from - 1] > 0.5 * rate[peak]) from--;
  let fall = -1;
  for (let i = peak; i < rate.length; i++) if (rate[i] < -0.3 * rate[peak] && (fall < 0 || rate[i] < rate[fall])) fall = i;
  // the fall begins where its rate, taken over both sides, is half of its fastest
  const half = 0.5 * (rate[fall] ?? 0);
  while (fall > peak + 1 && rate[fall - 1] < half) fall--;
  return { from, to: fall < 0 ? drive.t.length : fall };
}
