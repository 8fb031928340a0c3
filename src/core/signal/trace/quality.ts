import { lowerBound, median, scaledMad } from '#core/stats/quantiles';
import { isImpossible } from './impossible';
import { twoLevels } from './levels';
import type { Channel, Drive, Span } from './types';

const HALF_WIDTH = 5;

/**
 * Isolated spikes by the Hampel rule: a sample over 6 scaled MADs from the median of the 11 around it, and over the
 * larger of 3 resolutions and 1 K. Rising and falling flanks are never flagged, as their samples are the median.
 * @returns 1 for flagged samples
 */
export function flagSpikes(values: Float64Array, resolution: number | null): Uint8Array {
  const flags = new Uint8Array(values.length);
  const least = Math.max(1, 3 * (resolution ?? 0));
  const quiet = quietBlocks(values, least);
  for (let i = 0; i < values.length; i++) {
    if (quiet[Math.floor(i / QUIET)]) i += QUIET - (i % QUIET);
    if (i >= values.length || !standsApart(values, i, least)) continue;
    const around = values.subarray(Math.max(0, i - HALF_WIDTH), i + HALF_WIDTH + 1);
    const distance = Math.abs(values[i] - median(around));
    if (distance > least && distance > 6 * scaledMad(around)) flags[i] = 1;
  }
  return flags;
}

/** Samples of a block that is passed over as a whole where nothing in or beside it moves. */
const QUIET = 16;

/** 1 for blocks that span, with their neighbours, no more than a spike would have to stand out. */
function quietBlocks(values: Float64Array, least: number): Uint8Array {
  const count = Math.ceil(values.length / QUIET);
  const low = new Float64Array(count + 2).fill(Number.POSITIVE_INFINITY);
  const high = new Float64Array(count + 2).fill(Number.NEGATIVE_INFINITY);
  for (let b = 0; b < count; b++) {
    let min = Number.POSITIVE_INFINITY;
    let max = Number.NEGATIVE_INFINITY;
    const to = Math.min(values.length, (b + 1) * QUIET);
    for (let i = b * QUIET; i < to; i++) {
      if (values[i] < min) min = values[i];
      if (values[i] > max) max = values[i];
    }
    low[b + 1] = min;
    high[b + 1] = max;
  }
  const quiet = new Uint8Array(count);
  for (let b = 0; b < count; b++) {
    const span = Math.max(high[b], high[b + 1], high[b + 2]) - Math.min(low[b], low[b + 1], low[b + 2]);
    if (span <= least) quiet[b] = 1;
  }
  return quiet;
}

/**
 * True where half of the known neighbours lie beyond the distance on one side, as they do around every spike; most samples are passed over
 * by this.
 */
function standsApart(values: Float64Array, i: number, least: number): boolean {
  const from = Math.max(0, i - HALF_WIDTH);
  const to = Math.min(values.length - 1, i + HALF_WIDTH);
  const v = values[i];
  let near = 0;
  let above = 0;
  let below = 0;
  for (let j = from; j <= to; j++) {
    const d = values[j] - v;
    if (d > least) above++;
    else if (d < -least) below++;
    else if (!Number.isNaN(d) && ++near > HALF_WIDTH) return false;
  }
  // the sample itself is among the near ones
  return Math.max(above, below) >= near + Math.min(above, below);
}

/**
 * True where over half of the readings are one of the impossible values, 0 °C counting as one among warm sensors.
 * @param othersMedian what the other sensors read, °C; asked only where it decides
 */
export function isDead(values: Float64Array, othersMedian: () => number): boolean {
  let known = 0;
  let bad = 0;
  let nought = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (Number.isNaN(v)) continue;
    known++;
    if (isImpossible(v)) bad++;
    else if (Math.abs(v) < 1e-9) nought++;
  }
  return bad > 0.5 * known || (bad + nought > 0.5 * known && othersMedian() > 10);
}

/** Longest time identical readings may last while the load changes, s. */
const STUCK_S = 60;
const GAP_PERIODS = 10;

/**
 * A channel is stuck where its readings stay identical while the drive spends over 60 s at another level (off by over a fifth of the
 * drive's range) than when they stopped moving.
 */
export function isStuck(
  channel: Pick<Channel, 't' | 'values'>,
  drive: Pick<Drive, 't' | 'values' | 'period_s'>,
  range: number = driveRange(drive),
): boolean {
  if (!(range > 0)) return false;
  const { t, values } = channel;
  const wide = widestStep(t);
  let start = -1;
  for (let i = 0; i <= values.length; i++) {
    const cut = i > 0 && i < values.length && t[i] - t[i - 1] > wide;
    if (i < values.length && !cut && (Number.isNaN(values[i]) || (start >= 0 && values[i] === values[start]))) continue;
    if (start >= 0) {
      const end = cut || i === values.length ? t[i - 1] : t[i];
      if (end - t[start] > STUCK_S && timeElsewhere(drive, t[start], end, 0.2 * range) > STUCK_S) return true;
    }
    start = i;
  }
  return false;
}

/**
 * Nothing is known across a step wider than this: readings on both sides of a gap that are alike stood still for no longer than they were
 * read.
 */
const widestStep = (t: Float64Array): number => GAP_PERIODS * ((t[t.length - 1] - t[0]) / Math.max(1, t.length - 1));

/** Movement of the sensors beside it that a sensor would have seen: kelvin, and steps of its own. */
const SEEN_K = 3;
const SEEN_STEPS = 3;

/** True where readings stay identical for over 60 s while most sensors beside it move by more than it could miss. */
export function standsStill(channel: Channel, sensors: Channel[]): boolean {
  const { t, values } = channel;
  const least = Math.max(SEEN_K, SEEN_STEPS * (channel.resolution ?? 0));
  const others = sensors.filter((s) => s !== channel);
  const moved = (from: number, to: number) => {
    const count = others.filter((o) => {
      const a = lowerBound(o.t, from);
      const b = lowerBound(o.t, to);
      if (b - a < 2) return false;
      const part = o.clean.subarray(a, b);
      const tenth = Math.max(1, Math.floor(part.length / 10));
      return Math.abs(median(part.subarray(part.length - tenth)) - median(part.subarray(0, tenth))) > least;
    }).length;
    return count > others.length / 2;
  };
  const wide = widestStep(t);
  let start = -1;
  for (let i = 0; i <= values.length; i++) {
    const cut = i > 0 && i < values.length && t[i] - t[i - 1] > wide;
    if (i < values.length && !cut && (Number.isNaN(values[i]) || (start >= 0 && values[i] === values[start]))) continue;
    if (start >= 0) {
      const end = cut || i === values.length ? t[i - 1] : t[i];
      if (end - t[start] > STUCK_S && moved(t[start], end)) return true;
    }
    start = i;
  }
  return false;
}

/** From idle to load of a drive; 0 where it shows no load. */
export function driveRange(drive: Pick<Drive, 'values' | 'period_s'>): number {
  const levels = twoLevels(drive);
  return levels ? levels.high - levels.low : 0;
}

function timeElsewhere(drive: { t: Float64Array; values: Float64Array }, from: number, to: number, least: number): number {
  let level = Number.NaN;
  let total = 0;
  for (let i = lowerBound(drive.t, from); i < drive.t.length && drive.t[i] <= to; i++) {
    if (Number.isNaN(level)) level = drive.values[i];
    else if (i > 0 && Math.abs(drive.values[i] - level) > least) total += drive.t[i] - drive.t[i - 1];
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
