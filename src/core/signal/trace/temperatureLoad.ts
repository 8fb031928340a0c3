import { leastSquares } from '#core/stats/leastSquares';
import { smallestStep } from '#core/stats/smallestStep';
import type { Drive } from './types';

/** Samples [from, to) under load. */
export interface LoadRange {
  from: number;
  to: number;
}

/** Half width over which a step of load shows in the temperature, s. */
const REACH_S = 30;
/** Seconds around a step by which its instant is fitted, and time constants of what follows it. */
const BEFORE_S = 60;
const AFTER_S = 90;
const CONSTANTS_S = [2, 12, 60];
/** Least step of the temperature that is a load, K and steps of the sensor. */
const LEAST_K = 3;
const LEAST_STEPS = 2;
/** A fall counts as the load's end where it is at least this share of the rise. */
const FALL_SHARE = 0.25;
const MOST_TRIED = 120;

/**
 * Load told from the temperature alone: where the half minute after an instant is most above the half minute before, and where it is most
 * below. Both instants are then fitted: a line before, and behind it exponentials that start there, so that coarse sensors tell them to
 * some seconds.
 * @returns null where the temperature shows no load
 */
export function loadFromTemperature(drive: Drive): LoadRange | null {
  const { t, values } = drive;
  const n = values.length;
  const h = Math.max(2, Math.min(Math.round(REACH_S / drive.period_s), Math.floor(n / 6)));
  if (n < 4 * h) return null;
  const steps = differences(values, h);
  const up = extreme(steps, h, n - h, 1);
  const least = Math.max(LEAST_K, LEAST_STEPS * (smallestStep(values) ?? 0));
  if (!(steps[up] > least)) return null;
  const from = fitInstant(drive, up);
  // the fall is sought behind the rise, at least a reach away from it
  const down = extreme(steps, Math.min(n - h, up + h), n - h, -1);
  const falls = down > up && -steps[down] > Math.max(least, FALL_SHARE * steps[up]);
  const to = falls ? fitInstant(drive, down) : n;
  return to > from && t[Math.min(to, n - 1)] > t[from] ? { from, to } : null;
}

/** Mean of the h values from each place on less that of the h before it. */
function differences(values: Float64Array, h: number): Float64Array {
  const n = values.length;
  const sums = new Float64Array(n + 1);
  let last = values.find((v) => !Number.isNaN(v)) ?? 0;
  for (let i = 0; i < n; i++) {
    if (!Number.isNaN(values[i])) last = values[i];
    sums[i + 1] = sums[i] + last;
  }
  const out = new Float64Array(n);
  for (let i = h; i <= n - h; i++) if (i < n) out[i] = (sums[i + h] - 2 * sums[i] + sums[i - h]) / h;
  return out;
}

function extreme(values: Float64Array, from: number, to: number, sign: 1 | -1): number {
  let best = from;
  for (let i = from; i < to; i++) if (sign * values[i] > sign * values[best]) best = i;
  return best;
}

/** Index near a place at which a line, and behind it exponentials that begin there, explain the readings best by least squares. */
function fitInstant({ t, values, period_s }: Drive, near: number): number {
  const first = Math.max(0, near - Math.round((REACH_S + BEFORE_S) / period_s));
  const end = Math.min(values.length, near + Math.round(AFTER_S / period_s));
  const stride = Math.max(1, Math.floor((end - first) / 300));
  const x: number[] = [];
  const y: number[] = [];
  for (let i = first; i < end; i += stride) {
    if (Number.isNaN(values[i])) continue;
    x.push(t[i] - t[near]);
    y.push(values[i]);
  }
  const columns = (at: number) => [
    Float64Array.from(x, () => 1),
    Float64Array.from(x, (s) => s),
    ...CONSTANTS_S.map((tau) => Float64Array.from(x, (s) => (s <= at ? 0 : 1 - Math.exp(-(s - at) / tau)))),
  ];
  const candidates: number[] = [];
  const low = Math.max(first + 3, near - Math.round((1.5 * REACH_S) / period_s));
  const high = Math.min(end - 3, near + Math.round((0.5 * REACH_S) / period_s));
  const each = Math.max(1, Math.ceil((high - low) / MOST_TRIED));
  for (let i = low; i <= high; i += each) candidates.push(i);
  let best = near;
  let least = Number.POSITIVE_INFINITY;
  for (const i of candidates) {
    const fit = leastSquares(columns(t[i] - t[near]), Float64Array.from(y));
    if (fit && fit.rss < least) {
      least = fit.rss;
      best = i;
    }
  }
  return best;
}
