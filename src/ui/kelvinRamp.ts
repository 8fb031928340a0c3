/** Colour of a rise between the coolest and hottest shown: teal, bone, ember. Mixed by the browser, so it follows the theme. */
export function rampColour(value: number, low: number, high: number): string {
  const share = high > low ? Math.min(1, Math.max(0, (value - low) / (high - low))) : 0.5;
  const percent = Math.round(share < 0.5 ? 200 * share : 200 * (share - 0.5));
  return share < 0.5 ? `color-mix(in oklab, var(--bone) ${percent}%, var(--cool))` : `color-mix(in oklab, var(--hot) ${percent}%, var(--bone))`;
}

/** Range of a kelvin axis around values: whole even steps with a little room, and ticks that stay readable. */
export function kelvinRange(values: number[]): { low: number; high: number; ticks: number[] } {
  if (values.length === 0) return { low: 0, high: 10, ticks: [0, 5, 10] };
  const least = Math.min(...values);
  const most = Math.max(...values);
  const room = Math.max(0.5, 0.06 * (most - least));
  const span = most - least + 2 * room;
  const step = [0.2, 0.5, 1, 2, 5, 10, 20, 50].find((s) => span / s <= 9) ?? 100;
  const low = Math.floor((least - room) / step) * step;
  const high = Math.ceil((most + room) / step) * step;
  const count = Math.round((high - low) / step);
  return { low, high, ticks: Array.from({ length: count + 1 }, (_, i) => Number((low + i * step).toFixed(6))) };
}
