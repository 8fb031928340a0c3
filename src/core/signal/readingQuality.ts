import { fitLine } from '#core/stats/line';
import { smallestStep } from '#core/stats/smallestStep';

/** What a stretch of readings of something that does not change says of the instrument. */
export interface ReadingQuality {
  count: number;
  /** readings per second; null before two */
  rate_hz: number | null;
  mean: number;
  /** standard deviation about a straight line; null before ten readings */
  noise: number | null;
  /** smallest step between readings that follow each other; null where they never change */
  resolution: number | null;
  /** slope of the line per minute, and its standard error; null before ten readings */
  drift_per_min: number | null;
  drift_se: number | null;
}

const LEAST = 10;

/**
 * Noise, resolution and drift of readings.
 * @param t s, rising
 * @param values in any unit, NaN where there was no reading
 */
export function readingQuality(t: number[], values: number[]): ReadingQuality {
  const kept = values.flatMap((v, i) => (Number.isNaN(v) ? [] : [{ t: t[i], v }]));
  const [x, y] = [kept.map((k) => k.t), kept.map((k) => k.v)];
  const count = y.length;
  const lasts = count > 1 ? x[count - 1] - x[0] : 0;
  const line = count >= LEAST ? fitLine(x, y) : null;
  const step = smallestStep(y);
  const rss = line ? line.residuals.reduce((sum, r) => sum + r * r, 0) : 0;
  return {
    ...{ count, rate_hz: lasts > 0 ? (count - 1) / lasts : null, mean: y.reduce((sum, v) => sum + v, 0) / Math.max(1, count) },
    noise: line ? Math.sqrt(rss / (count - 2)) : null,
    resolution: step === null ? null : Number(step.toPrecision(3)),
    drift_per_min: line ? 60 * line.slope : null,
    drift_se: line?.slope_se == null ? null : 60 * line.slope_se,
  };
}
