import { within } from '#core/signal/trace/series';
import type { Channel } from '#core/signal/trace/types';
import { scaledMad } from '#core/stats/quantiles';

/** Course of the power through a step, as a share of it: straight between its knots, 0 up to the first, as the last beyond it. */
export interface PowerCourse {
  /** s after the beginning of the step */
  t: Float64Array;
  share: Float64Array;
}

/** The step of a power nobody logged: somewhere between two readings of what told it. */
export const plainStep = (interval_s: number): PowerCourse => ({ t: Float64Array.of(0, interval_s), share: Float64Array.of(0, 1) });

/** The power has left its level where it is this share of the step away from it. */
const LEFT = 0.02;
/** Readings are taken one by one for so long after the step, then as means over times that grow by this ratio. */
const ONE_BY_ONE_S = 8;
const GROWTH = 1.12;

/**
 * The last moment at which the power was still at its level before a step, s on the log's clock.
 * @param half_s where it passes half of the step
 */
export function beginningOf(power: Channel, half_s: number, before: number, after: number, least_s: number): number {
  const { t, values } = within(power.t, power.clean, { start_s: least_s, end_s: half_s + power.period_s });
  const calm = within(power.t, power.clean, { start_s: least_s, end_s: half_s - 5 });
  const scatter = calm.values.length > 10 ? scaledMad(calm.values) : 0;
  const allowed = Math.max(LEFT * Math.abs(after - before), 4 * scatter);
  for (let i = t.length - 1; i >= 0; i--) if (t[i] <= half_s && Math.abs(values[i] - before) <= allowed) return t[i];
  return half_s - power.period_s;
}

/**
 * The logged course of a step's power, with every reading while it rises and means of many once it holds.
 * @param at_s beginning of the step on the log's clock
 * @param before power before it, W
 * @param step what is called the whole of the step, W, with its sign
 */
export function powerCourse(power: Channel, at_s: number, end_s: number, before: number, step: number): PowerCourse {
  const { t, values } = within(power.t, power.clean, { start_s: at_s + 1e-9, end_s });
  const times = [0];
  const shares = [0];
  for (let i = 0; i < t.length; ) {
    const end = t[i] - at_s <= ONE_BY_ONE_S ? i + 1 : firstAfter(t, i, at_s + GROWTH * (t[i] - at_s));
    const some = Array.from(values.subarray(i, end)).filter(Number.isFinite);
    if (some.length > 0) {
      times.push((t[i] + t[end - 1]) / 2 - at_s);
      shares.push((trimmedMean(some) - before) / step);
    }
    i = end;
  }
  return { t: Float64Array.from(times), share: Float64Array.from(shares) };
}

/** Mean without the tenths at both ends. */
function trimmedMean(values: number[]): number {
  const cut = Math.floor(values.length / 10);
  const kept = [...values].sort((a, b) => a - b).slice(cut, values.length - cut);
  return kept.reduce((a, b) => a + b, 0) / kept.length;
}

function firstAfter(t: Float64Array, from: number, end: number): number {
  let i = from + 1;
  while (i < t.length && t[i] < end) i++;
  return i;
}
