import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lowerBound, median, quantile, quantiles, runningMedian, scaledMad, sortedKnown, sortedQuantile } from './quantiles';

/** Readings as loggers give them: few steps, many ties, some missing. */
const readings = fc.array(
  fc.oneof(fc.integer({ min: -20, max: 20 }), fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.constant(Number.NaN)),
  { maxLength: 80 },
);
const known = (values: number[]) => values.filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);

/** Type 7 on a sorted copy: the slow way. */
function byHand(values: number[], p: number): number {
  const sorted = known(values);
  if (sorted.length === 0) return Number.NaN;
  const at = (sorted.length - 1) * p;
  const low = Math.floor(at);
  return sorted[low] + (at - low) * ((sorted[low + 1] ?? sorted[low]) - sorted[low]);
}

describe('quantiles', () => {
  it('by selection are those of the sorted values, one or several at a time', () => {
    fc.assert(
      fc.property(readings, fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 4 }), (values, shares) => {
        // a zero is one whatever its sign
        const plain = (list: number[]) => list.map((v) => v + 0);
        const wanted = plain(shares.map((p) => byHand(values, p)));
        expect(plain(shares.map((p) => quantile(values, p)))).toEqual(wanted);
        expect(plain(Array.from(quantiles(values, shares)))).toEqual(wanted);
        expect(plain(shares.map((p) => sortedQuantile(sortedKnown(values), p)))).toEqual(wanted);
      }),
    );
  });
  it('leave their values as they were', () => {
    const values = Float64Array.of(3, 1, 2);
    median(values);
    expect(Array.from(values)).toEqual([3, 1, 2]);
  });
  it('scale the median deviation to a normal standard deviation', () => {
    expect(scaledMad([1, 2, 3, 4, 100])).toBeCloseTo(1.4826, 9);
  });
});

describe('the running median', () => {
  it('is the median of every cut span, however values come, repeat and are missing', () => {
    fc.assert(
      fc.property(readings, fc.integer({ min: 0, max: 12 }), (values, half) => {
        const wanted = values.map((_, i) => byHand(values.slice(Math.max(0, i - half), i + half + 1), 0.5));
        const found = Array.from(runningMedian(values, half));
        expect(found).toHaveLength(wanted.length);
        for (const [i, v] of found.entries()) {
          if (Number.isNaN(wanted[i])) expect(v).toBeNaN();
          else expect(v).toBeCloseTo(wanted[i], 6);
        }
      }),
    );
  });
});

describe('lower bound', () => {
  it('is the first place that is not below the value, within the length that counts', () => {
    expect(lowerBound([1, 2, 2, 3], 2)).toBe(1);
    expect(lowerBound([1, 2, 2, 3], 9)).toBe(4);
    expect(lowerBound([1, 2, 2, 0, 0], 9, 3)).toBe(3);
    expect(lowerBound([], 1)).toBe(0);
  });
});
