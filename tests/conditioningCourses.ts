/** What is left to come after each cycle, by kind of course; below zero where it gets worse. */
export const KINDS: Record<string, (u: () => number) => (i: number) => number> = {
  'one quick stage': (u) => exponential(1.5 + 3 * u(), 0.3 + 0.45 * u()),
  'one slow stage': (u) => exponential(1 + 2 * u(), 0.85 + 0.1 * u()),
  'two stages': (u) => {
    const [fast, slow] = [exponential(1.5 + 3 * u(), 0.3 + 0.2 * u()), exponential(0.5 + u(), 0.85 + 0.1 * u())];
    return (i) => fast(i) + slow(i);
  },
  'a gain that begins late': (u) => {
    const [gain, late] = [exponential(1 + 2 * u(), 0.4 + 0.3 * u()), 1 + Math.floor(3 * u())];
    return (i) => gain(Math.max(0, i - late));
  },
  '1/n': (u) => {
    const gain = 1.5 + 3 * u();
    return (i) => gain / (i + 1);
  },
  'getting worse': (u) => {
    const rate = 0.05 + 0.15 * u();
    return (i) => -rate * (40 - i);
  },
  'a gain, then getting worse': (u) => {
    const [gain, rate] = [exponential(1.5 + 2 * u(), 0.3 + 0.2 * u()), 0.05 + 0.15 * u()];
    return (i) => gain(i) - rate * (40 - i);
  },
};

function exponential(gain: number, ratio: number): (i: number) => number {
  return (i) => gain * ratio ** i;
}
