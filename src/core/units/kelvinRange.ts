export interface KelvinRange {
  low: number;
  high: number;
  ticks: number[];
}

/** Range of a kelvin axis around values, with a little room at both ends and ticks at round figures inside. */
export function kelvinRange(values: number[]): KelvinRange {
  if (values.length === 0) return { low: 0, high: 10, ticks: [0, 5, 10] };
  const least = Math.min(...values);
  const most = Math.max(...values);
  const room = Math.max(0.5, 0.04 * (most - least));
  const low = least - room;
  const high = most + room;
  const step = [0.2, 0.5, 1, 2, 5, 10, 20, 50].find((s) => (high - low) / s <= 10) ?? 100;
  const first = Math.ceil(low / step);
  const count = Math.floor(high / step) - first + 1;
  return { low, high, ticks: Array.from({ length: count }, (_, i) => Number(((first + i) * step).toFixed(6))) };
}
