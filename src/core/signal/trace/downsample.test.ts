import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { downsample } from './downsample';
import { interpolate, within } from './series';

const axis = (n: number) => Float64Array.from({ length: n }, (_, i) => i);

describe('downsample', () => {
  it('never loses the highest or lowest reading, and keeps to its columns', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 150, noNaN: true }), { minLength: 2, maxLength: 400 }),
        fc.integer({ min: 1, max: 60 }),
        (list, columns) => {
          const values = Float64Array.from(list);
          const line = downsample(axis(list.length), values, 0, list.length - 1, columns, Number.POSITIVE_INFINITY);
          expect(Math.max(...line.v.map((v) => v ?? Number.NEGATIVE_INFINITY))).toBe(Math.max(...list));
          expect(Math.min(...line.v.map((v) => v ?? Number.POSITIVE_INFINITY))).toBe(Math.min(...list));
          expect(line.t.length).toBeLessThanOrEqual(2 * (columns + 1));
          expect([...line.t].sort((a, b) => a - b)).toEqual(line.t);
        },
      ),
    );
  });
  it('breaks the line at a gap', () => {
    const values = axis(30).map((i) => (i > 9 && i < 20 ? Number.NaN : 40));
    expect(downsample(axis(30), values, 0, 29, 30, 4).v.filter((v) => v === null)).toHaveLength(1);
  });
});

describe('interpolation', () => {
  it('draws lines between neighbours, holds the ends for a step, and bridges no gap', () => {
    const t = Float64Array.of(0, 2, 4, 20);
    const v = Float64Array.of(10, 12, 14, 30);
    expect(Array.from(interpolate(t, v, Float64Array.of(-1, 1, 3, 4, 12, 21, 30), 4))).toEqual([
      10,
      11,
      13,
      14,
      Number.NaN,
      30,
      Number.NaN,
    ]);
  });
  it('takes a half-open span and leaves missing readings out', () => {
    expect(Array.from(within(axis(6), Float64Array.of(0, 1, Number.NaN, 3, 4, 5), { start_s: 1, end_s: 5 }).values)).toEqual([1, 3, 4]);
  });
});
