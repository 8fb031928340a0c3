import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { stepsOf } from './steps';

describe('steps of level', () => {
  const random = seededRandom(4);
  const noise = (n: number, level: number) => Array.from({ length: n }, () => level + random.normal());

  it('are found where they are, one after the other', () => {
    const steps = stepsOf([...noise(14, 0), ...noise(12, 5), ...noise(10, 0)]);
    expect(steps.map((s) => s.at)).toEqual([14, 26]);
    expect(steps[0].after - steps[0].before).toBeGreaterThan(3);
    expect(steps[1].after - steps[1].before).toBeLessThan(-3);
  });

  it('are seldom told where there are none, and never of fewer than six values', () => {
    let told = 0;
    for (let i = 0; i < 200; i++) if (stepsOf(noise(15, 2), i).length > 0) told++;
    expect(told).toBeLessThanOrEqual(8);
    expect(stepsOf([0, 0, 0, 9, 9])).toEqual([]);
    expect(stepsOf([1, 1, 1, 1, 1, 1, 1])).toEqual([]);
  });

  it('are told from the least number on that a shuffle can tell from chance', () => {
    // four of eight at another level: one in 35 orders is as sharp, which is more than one in a hundred
    expect(stepsOf([0, 0, 0, 0, 9, 9, 9, 9])).toEqual([]);
    expect(stepsOf([0, 0.1, 0, 0.1, 0, 9, 9.1, 9, 9.1, 9]).map((s) => s.at)).toEqual([5]);
  });
});
