import { describe, expect, it } from 'vitest';
import { holm } from './holm';

describe('Holm’s adjustment', () => {
  it('steps down from the smallest p, never falls, and never passes 1', () => {
    // by hand: 4 × 0.01, 3 × 0.02, then 0.06 stays above 2 × 0.025, 1 × 0.4
    const adjusted = holm([0.4, 0.01, 0.025, 0.02]);
    expect(adjusted.map((p) => Number(p?.toFixed(9)))).toEqual([0.4, 0.04, 0.06, 0.06]);
    expect(holm([0.9, 0.8])).toEqual([1, 1]);
  });
  it('leaves out what has no p', () => {
    expect(holm([null, 0.03])).toEqual([null, 0.03]);
    expect(holm([])).toEqual([]);
  });
});
