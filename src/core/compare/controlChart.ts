import { tQuantile } from '#core/stats/distributions/t';
import { fitLine } from '#core/stats/line';
import { mean } from '#core/stats/moments';

interface ChartedValue {
  /** days, on any origin */
  t: number;
  value: number;
}

export interface ControlChart {
  centre: number;
  lower: number;
  upper: number;
  /** positions of the values beyond the limits */
  beyond: number[];
  /** positions that end a row of eight or more on one side of the centre */
  one_sided: number[];
  /** straight drift per day with its 95 % interval; null with under three values or no spread of days */
  drift: { per_day: number; ci: [number, number] } | null;
}

/** Half the range of individual values within which nearly all lie, in mean moving ranges: 3/d₂, d₂ = 1.128 for two. */
const LIMITS = 2.66;
const ROW = 8;

/**
 * Control chart of single values in time: the reference's mounts over the days of a study. Source: Shewhart's chart of individuals and
 * moving ranges (NIST/SEMATECH e-Handbook §6.3.2.2), with the rule of eight on one side. Limits: about one study in three hundred values
 * lies beyond by chance; a trend shows in the drift first.
 * @param values in the order of their time
 * @returns null with fewer than two values
 */
export function controlChart(values: ChartedValue[]): ControlChart | null {
  if (values.length < 2) return null;
  const readings = values.map((v) => v.value);
  const centre = mean(readings);
  const moving = mean(readings.slice(1).map((v, i) => Math.abs(v - readings[i])));
  const [lower, upper] = [centre - LIMITS * moving, centre + LIMITS * moving];
  const beyond = readings.flatMap((v, i) => (v < lower || v > upper ? [i] : []));
  const oneSided: number[] = [];
  let row = 0;
  readings.forEach((v, i) => {
    const side = Math.sign(v - centre);
    row = side === 0 ? 0 : Math.sign(row) === side ? row + side : side;
    if (Math.abs(row) >= ROW) oneSided.push(i);
  });
  return { centre, lower, upper, beyond, one_sided: oneSided, drift: driftOf(values) };
}

function driftOf(values: ChartedValue[]): ControlChart['drift'] {
  const n = values.length;
  const t = values.map((v) => v.t);
  if (n < 3 || Math.max(...t) === Math.min(...t)) return null;
  const line = fitLine(
    t,
    values.map((v) => v.value),
  );
  if (!line || line.slope_se === null) return null;
  const half = tQuantile(0.975, n - 2) * line.slope_se;
  return { per_day: line.slope, ci: [line.slope - half, line.slope + half] };
}
