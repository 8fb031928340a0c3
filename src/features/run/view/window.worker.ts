import { meanHalfWidth } from '#core/signal/steady/meanInterval';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { within } from '#core/signal/trace/series';
import type { Span } from '#core/signal/trace/types';

/** What a window says about the rise. */
export interface WindowAnswer {
  mean: number;
  /** 95 % interval of the mean */
  low: number;
  high: number;
  /** K/min, with the reach of its uncertainty */
  slope: number;
  reach: number;
  steady: boolean;
  n_eff: number;
}

let t: Float64Array = new Float64Array(0);
let values: Float64Array = new Float64Array(0);

/** Takes the series that windows are judged on: count, then times as 64-bit and values as 32-bit numbers. */
function load(buffer: ArrayBuffer): number {
  const n = new Uint32Array(buffer, 0, 1)[0];
  t = new Float64Array(buffer, 8, n);
  values = Float64Array.from(new Float32Array(buffer, 8 + 8 * n, n));
  return n;
}

/**
 * @param limit K/min
 * @param resolution step of the sensors, K
 * @returns null for fewer than five readings
 */
function judge(window: Span, limit: number, resolution: number | null): WindowAnswer | null {
  const part = within(t, values, window);
  const known = slopeTest(part.t, part.values, limit);
  if (!known) return null;
  const { mean, slope, reach, steady, n_eff } = known;
  const half = meanHalfWidth(known, resolution);
  return { mean, low: mean - half, high: mean + half, slope, reach, steady, n_eff };
}

export const api = { load, judge };
export type WindowApi = typeof api;
