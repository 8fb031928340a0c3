import { seededRandom } from '#core/stats/random';
import type { CauerLadder } from '#core/thermal/transient/cauer';
import { fosterChain } from '#core/thermal/transient/fosterFromLadder';

/** The course of a part under load, with its truth. */
export interface LoadCourse {
  /** s since the load came on */
  t: Float64Array;
  /** what a sensor reads over the room, K */
  rise: Float64Array;
  /** as a share of the sustained power, s since the load came on */
  power: { t: Float64Array; share: Float64Array };
  /** rise for infinite time, K */
  end_k: number;
  /** the rise without scatter at a time, K */
  truth: (s: number) => number;
  /** when the slope over 120 s falls below 0.2 K/min and stays, s */
  settled_s: number;
}

export interface LoadCourseOptions {
  seed: number;
  noise_k: number;
  /** share of each reading's scatter that goes on to the next */
  carried?: number;
  interval_s?: number;
  boost?: { share: number; s: number } | null;
  load_s?: number;
}

/** A drawn body of four nodes, like a part under its lid and cooler, warmed by a load that may begin with a boost. */
export function loadCourse({ seed, noise_k, carried = 0, interval_s = 1, boost = null, load_s = 2400 }: LoadCourseOptions): LoadCourse {
  const random = seededRandom(seed);
  const about = (v: number, by: number) => v * Math.exp(by * (2 * random.uniform() - 1));
  const ladder: CauerLadder = { R: [0.06, 0.07, 0.03, 0.15].map((r) => about(r, 0.4)), C: [15, 70, 200, 450].map((c) => about(c, 0.5)) };
  const { R, tau } = fosterChain(ladder);
  const watts = about(130, 0.4);
  const idle_k = about(4, 0.3);
  const rest_k = 0.5 * random.normal();
  const slowest = tau.indexOf(Math.max(...tau));
  const whole = R.reduce((a, b) => a + b, 0);
  const truth = (s: number) => {
    const step = (from: number) => R.reduce((sum, r, j) => sum - r * Math.expm1(-(s - from) / tau[j]), 0);
    const boosted = boost && s > 0 ? boost.share * step(0) - (s > boost.s ? (boost.share - 1) * step(boost.s) : 0) : step(0);
    return idle_k + rest_k * Math.exp(-s / tau[slowest]) + watts * boosted;
  };
  const t = Float64Array.from({ length: Math.floor(load_s / interval_s) }, (_, i) => (i + 0.5) * interval_s);
  let noise = random.normal();
  const rise = t.map((s) => {
    noise = carried * noise + Math.sqrt(1 - carried ** 2) * random.normal();
    return truth(s) + noise_k * noise;
  });
  const slope = (s: number) => (truth(s) - truth(s - 120)) / 2;
  let settled_s = load_s;
  while (settled_s > 130 && Math.abs(slope(settled_s)) < 0.2) settled_s--;
  const power = boost
    ? { t: Float64Array.of(0, 0.01, boost.s, boost.s + 0.01), share: Float64Array.of(0, boost.share, boost.share, 1) }
    : { t: Float64Array.of(0, 0.01), share: Float64Array.of(0, 1) };
  return { t, rise, power, end_k: idle_k + watts * whole, truth, settled_s };
}
