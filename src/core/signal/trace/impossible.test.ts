import { describe, expect, it } from 'vitest';
import { impossibleReadings } from './impossible';

describe('impossible readings', () => {
  const t = Float64Array.from({ length: 60 }, (_, i) => 2 * i);
  const flagged = (values: (i: number) => number, band: [number, number] | null = [-40, 85]) => {
    const flags = impossibleReadings(
      t,
      Float64Array.from(t, (_, i) => values(i)),
      band,
    );
    return flags ? flags.reduce((n, f) => n + f, 0) : 0;
  };
  const nought = (from: number, to: number, level: number) => (i: number) => (i >= from && i < to ? 0 : level);
  it('at exactly 0.0 for over 10 s after a jump, not for a moment, and not in a room that is near it', () => {
    expect(flagged(nought(20, 27, 22))).toBe(7);
    expect(flagged(nought(20, 24, 22))).toBe(0);
    expect(flagged(nought(20, 27, 2.5))).toBe(0);
    expect(flagged(nought(20, 27, 3.5))).toBe(7);
    // from the first reading on, and to the last
    expect(flagged(nought(0, 10, 22))).toBe(10);
    expect(flagged(nought(50, 60, 22))).toBe(10);
    expect(flagged(() => 0)).toBe(0);
  });
  it('outside what air can be, and the values of a broken probe anywhere', () => {
    expect(flagged((i) => (i === 5 ? -41 : -18))).toBe(1);
    expect(flagged((i) => (i === 5 ? 86 : 84))).toBe(1);
    expect(flagged((i) => (i % 2 ? -127 : 655.35), null)).toBe(60);
    expect(flagged((i) => (i === 5 ? 120 : 70), null)).toBe(0);
  });
});
