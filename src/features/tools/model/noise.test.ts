import { describe, expect, it } from 'vitest';
import { noiseOf, readLevels } from './noise';

describe('a noise told by itself', () => {
  it('is the mean energy less the room, turned to the distance', () => {
    expect(noiseOf([40], 30, 1, 1, 'dB(A)')).toMatchObject({ source_db: expect.closeTo(39.542, 3), at_most: false });
    expect(noiseOf([40], 30, 0.5, 1, 'dB(A)').source_db).toBeCloseTo(39.542 - 6.021, 2);
    expect(noiseOf([40, 40], 30, 1, 1, 'dB(A)').sentence).toBe(
      '39.5 dB(A) at 1.00 m, the room taken out: the reading of 40.0 lies 10.0 dB over its floor.',
    );
  });
  it('too near the floor is a bound, with what to do', () => {
    expect(noiseOf([31], 30, 1, 1, 'dB(A)').sentence).toMatch(
      /^At most 28\.0 dB\(A\) at 1\.00 m: the reading lies 1\.0 dB over the floor.*Go nearer/,
    );
  });
  it('is read from what a person types', () => {
    expect(readLevels('31.2 31,4; 30\n29')).toEqual([31.2, 31.4, 30, 29]);
    for (const bad of ['', 'loud', '300', '30 '.repeat(101)]) expect(readLevels(bad)).toBeNull();
  });
});
