import { describe, expect, it } from 'vitest';
import { seededRandom } from '../stats/random';
import { judgeConditioning } from './conditioned';

describe('conditioning', () => {
  it('is told within one cycle of the truth, early never by more than one', () => {
    const random = seededRandom(8);
    const apart: number[] = [];
    for (let k = 0; k < 200; k++) {
      const gain = 1.5 + 3 * random.uniform();
      const ratio = 0.3 + 0.45 * random.uniform();
      const left = (i: number) => gain * ratio ** i;
      let truth = 0;
      while (left(truth) >= 0.25) truth++;
      const values: number[] = [];
      let told = 0;
      for (; told < 40; told++) {
        values.push(40 + left(told) + 0.03 * random.normal());
        if (judgeConditioning(values, 0.03, 1).conditioned) break;
      }
      apart.push(told - truth);
    }
    expect(apart.filter((d) => Math.abs(d) <= 1).length).toBeGreaterThanOrEqual(195);
    expect(Math.min(...apart)).toBeGreaterThanOrEqual(-1);
  });
  it('says what is left and its bound', () => {
    const judged = judgeConditioning([43, 41.5, 40.75, 40.375, 40.1875], 0.01, 1);
    expect(judged.end_k).toBeCloseTo(40, 1);
    expect(judged.remaining_k).toBeCloseTo(0.1875, 1);
    expect(judged.bound_k ?? 0).toBeGreaterThan(0.1875);
  });
  it('tells nothing of two cycles', () => {
    expect(judgeConditioning([42, 41], 0.05, 1)).toEqual({ conditioned: false, remaining_k: null, bound_k: null, end_k: null });
  });
  it('is there from the start where nothing is gained', () => {
    expect(judgeConditioning([40.02, 39.99, 40.01, 40], 0.03, 1).conditioned).toBe(true);
  });
});
