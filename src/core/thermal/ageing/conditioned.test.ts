import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { KINDS } from '../../../../tests/conditioningCourses';
import { judgeConditioning } from './conditioned';

const MARGIN = 1;

describe('conditioning', () => {
  it.each(Object.keys(KINDS))('is said of at most a tenth of courses with more than a quarter of the margin left: %s', (kind) => {
    for (const noise of [0.03, 0.1]) {
      const random = seededRandom(8);
      let wrong = 0;
      for (let k = 0; k < 30; k++) {
        const left = KINDS[kind](() => random.uniform());
        const values: number[] = [];
        for (let i = 0; i < 20; i++) {
          values.push(40 + left(i) + noise * random.normal());
          if (!judgeConditioning(values, noise, MARGIN).conditioned) continue;
          if (Math.abs(left(i)) > MARGIN / 4) wrong++;
          break;
        }
      }
      expect(wrong).toBeLessThanOrEqual(3);
    }
  });
  it('is said of nearly every quick course with a quiet sensor, within a dozen cycles for most', () => {
    const random = seededRandom(9);
    const said: number[] = [];
    for (let k = 0; k < 40; k++) {
      const left = KINDS['one quick stage'](() => random.uniform());
      const values: number[] = [];
      for (let i = 0; i < 24; i++) {
        values.push(40 + left(i) + 0.03 * random.normal());
        if (!judgeConditioning(values, 0.03, MARGIN).conditioned) continue;
        said.push(i + 1);
        break;
      }
    }
    expect(said.length).toBeGreaterThanOrEqual(38);
    expect(said.sort((a, b) => a - b)[20]).toBeLessThanOrEqual(13);
  });
  it('says what is left and its bound', () => {
    const judged = judgeConditioning([43, 41.5, 40.75, 40.375, 40.1875], 0.01, 1);
    expect(judged.end_k).toBeCloseTo(40, 1);
    expect(judged.remaining_k).toBeCloseTo(0.1875, 1);
    expect(judged.bound_k ?? 0).toBeGreaterThan(0.1875);
  });
  it('tells nothing of three cycles, and no end of four', () => {
    const none = { conditioned: false, worsening: false, remaining_k: null, bound_k: null, end_k: null };
    expect(judgeConditioning([42, 41, 41], 0.05, 1)).toEqual(none);
    expect(judgeConditioning([40, 40, 40, 40], 0.001, 1).conditioned).toBe(false);
    expect(judgeConditioning([40, 40, 40, 40, 40], 0.001, 1).conditioned).toBe(true);
  });
  it('tells a loss at once', () => {
    expect(judgeConditioning([40, 40.2, 40.41, 40.6, 40.79], 0.03, 1)).toMatchObject({ conditioned: false, worsening: true });
    expect(judgeConditioning([40.02, 39.99, 40.01, 40, 40.01, 39.99], 0.03, 1).worsening).toBe(false);
  });
});
