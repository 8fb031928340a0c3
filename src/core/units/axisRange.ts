export interface AxisRange {
  low: number;
  high: number;
  ticks: number[];
}

const MOST_TICKS = 10;

/**
 * Range of an axis around values, with a little room at both ends and ticks at round figures inside.
 * @param leastRoom at each end, in the unit of the values
 */
export function axisRange(values: number[], leastRoom = 0): AxisRange {
  if (values.length === 0) return { low: 0, high: 10, ticks: [0, 5, 10] };
  const least = Math.min(...values);
  const most = Math.max(...values);
  const room = Math.max(leastRoom, 0.04 * (most - least)) || Math.max(Math.abs(most) * 0.01, 1e-9);
  const [low, high] = [least - room, most + room];
  const step = roundStep((high - low) / MOST_TICKS);
  const first = Math.ceil(low / step);
  const count = Math.floor(high / step) - first + 1;
  return { low, high, ticks: Array.from({ length: count }, (_, i) => Number(((first + i) * step).toPrecision(12))) };
}

/** Range of a kelvin axis: at least half a kelvin of room, as less is within any scatter. */
export const kelvinRange = (values: number[]): AxisRange => axisRange(values, 0.5);

/** The least of 1, 2, 5 × a power of ten that is no smaller. */
function roundStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return ([1, 2, 5].find((s) => s * power >= least * (1 - 1e-9)) ?? 10) * power;
}
