import { halfWidth } from '#core/signal/trace/stages';
import { runningMedian } from '#core/stats/quantiles';
import { type PowerCourse, plainStep } from './powerCourse';

/** A power that leaves the mean of its level by this share of the step begins another. */
const ANOTHER = 0.02;
/** An edge passes within this, s. */
const EDGE_S = 0.01;

/**
 * The levels a power held since a load came on, as shares of the one of now: a boost and what follows it are two.
 * @param t s since the load came on, rising
 * @param before_w power before it
 * @returns a plain step where it held one level; null without readings
 */
export function powerLevels(t: Float64Array, watts: Float64Array, before_w: number): PowerCourse | null {
  if (t.length < 5) return null;
  const period_s = (t[t.length - 1] - t[0]) / (t.length - 1);
  const smooth = runningMedian(watts, halfWidth(5, period_s));
  const whole = smooth[smooth.length - 1] - before_w;
  if (!(whole > 0)) return null;
  const levels: { from_s: number; sum: number; n: number }[] = [];
  smooth.forEach((w, i) => {
    const level = levels[levels.length - 1];
    if (level && Math.abs(w - level.sum / level.n) <= ANOTHER * whole) {
      level.sum += w;
      level.n++;
    } else levels.push({ from_s: t[i], sum: w, n: 1 });
  });
  // what holds for less than two medians is an edge on its way
  const held = levels.filter((l, k) => k === levels.length - 1 || l.n * period_s >= 10);
  const last = held[held.length - 1];
  const shares = held.map((l) => (l.sum / l.n - before_w) / (last.sum / last.n - before_w));
  if (shares.every((s) => Math.abs(s - 1) <= ANOTHER)) return plainStep(EDGE_S);
  const times = [0, EDGE_S];
  const values = [0, shares[0]];
  held.slice(1).forEach((l, k) => {
    times.push(l.from_s, l.from_s + EDGE_S);
    values.push(shares[k], shares[k + 1]);
  });
  return { t: Float64Array.from(times), share: Float64Array.from(values) };
}
