import { quantile, runningMedian, scaledMad } from '../stats/quantiles';
import type { Channel, Span } from './types';

const HALF_WIDTH = 5;

/**
 * Isolated spikes by the Hampel rule: a sample over 6 scaled MADs from the median of the 11 around it, and over the
 * larger of 3 resolutions and 1 K. Rising and falling flanks are never flagged, as their samples are the median.
 * @returns 1 for flagged samples
 */
export function flagSpikes(values: Float64Array, resolution: number | null): Uint8Array {
  const flags = new Uint8Array(values.length);
  const least = Math.max(1, 3 * (resolution ?? 0));
  const centre = runningMedian(values, HALF_WIDTH);
  for (let i = 0; i < values.length; i++) {
    const distance = Math.abs(values[i] - centre[i]);
    if (!(distance > least)) continue;
    const around = values.subarray(Math.max(0, i - HALF_WIDTH), i + HALF_WIDTH + 1);
    if (distance > 6 * scaledMad(around)) flags[i] = 1;
  }
  return flags;
}

/** Readings no working temperature sensor of a loaded part gives, °C: broken line, reset value, overflow. */
const IMPOSSIBLE_C = [-127, 655.35];

/** True where over half of the readings are one of the impossible values, 0 °C counting as one among warm sensors. */
export function isDead(values: Float64Array, othersMedian: number): boolean {
  let known = 0;
  let bad = 0;
  for (const v of values) {
    if (Number.isNaN(v)) continue;
    known++;
    if (IMPOSSIBLE_C.some((x) => Math.abs(v - x) < 0.01) || (Math.abs(v) < 1e-9 && othersMedian > 10)) bad++;
  }
  return bad > 0.5 * known;
}

/** Longest time identical readings may last while the load changes, s. */
const STUCK_S = 60;

/**
 * A channel is stuck where its readings stay identical while the drive spends over 60 s at another level
 * (off by over a fifth of the drive's range) than when they stopped moving.
 */
export function isStuck(channel: Pick<Channel, 't' | 'values'>, drive: { t: Float64Array; values: Float64Array }): boolean {
  const range = quantile(drive.values, 0.98) - quantile(drive.values, 0.02);
  if (!(range > 0)) return false;
  const { t, values } = channel;
  let start = -1;
  for (let i = 0; i <= values.length; i++) {
    if (i < values.length && (Number.isNaN(values[i]) || (start >= 0 && values[i] === values[start]))) continue;
    if (start >= 0) {
      const end = i < values.length ? t[i] : t[values.length - 1];
      if (end - t[start] > STUCK_S && timeElsewhere(drive, t[start], end, 0.2 * range) > STUCK_S) return true;
    }
    start = i;
  }
  return false;
}

function timeElsewhere(drive: { t: Float64Array; values: Float64Array }, from: number, to: number, least: number): number {
  let level = Number.NaN;
  let total = 0;
  for (let i = 0; i < drive.t.length; i++) {
    if (drive.t[i] < from) continue;
    if (drive.t[i] > to) break;
    if (Number.isNaN(level)) level = drive.values[i];
    else if (Math.abs(drive.values[i] - level) > least) total += drive.t[i] - drive.t[i - 1];
  }
  return total;
}

/** Spans in which over three samples of a channel are missing. */
export function findGaps(channel: Pick<Channel, 't' | 'values' | 'period_s'>): Span[] {
  const gaps: Span[] = [];
  let before = Number.NaN;
  for (let i = 0; i < channel.t.length; i++) {
    if (Number.isNaN(channel.values[i])) continue;
    if (channel.t[i] - before > 4.2 * channel.period_s) gaps.push({ start_s: before, end_s: channel.t[i] });
    before = channel.t[i];
  }
  return gaps;
}
