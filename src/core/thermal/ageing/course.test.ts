import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { type AgedValue, ageingVerdict, courseAt, fitAgeing, meanRate } from './course';

const AGES = [0, 7, 14, 30, 60];

function aged(
  of: (age: number) => number,
  { mounts = 4, mount_sd = 0, slope_sd = 0, run_sd = 0, seed = 1, ages = AGES } = {},
): AgedValue[] {
  const random = seededRandom(seed);
  return Array.from({ length: mounts }, (_, m) => {
    const [offset, steeper] = [mount_sd * random.normal(), slope_sd * random.normal()];
    return ages.map((age) => ({ mount: String(m + 1), age, value: of(age) + offset + (steeper * age) / 60 + run_sd * random.normal() }));
  }).flat();
}

describe('values over age', () => {
  it('are given the shape they follow, and the change from first to last', () => {
    const line = fitAgeing(
      aged((t) => 40 + 0.02 * t, { mount_sd: 0.4 }),
      0.95,
    );
    expect(line).toMatchObject({ shape: 'linear', ages: [0, 60], rests_on: 'mounts' });
    expect(line?.change.value).toBeCloseTo(1.2, 9);
    expect(line && meanRate(line, 30).value).toBeCloseTo(0.6, 9);
    expect(
      fitAgeing(
        aged((t) => 40 + 0.15 * Math.sqrt(t)),
        0.95,
      )?.shape,
    ).toBe('root');
    const cure = fitAgeing(
      aged((t) => 40 - 1.5 * (1 - Math.exp(-t / 6)), { run_sd: 0.02 }),
      0.95,
    );
    expect(cure?.shape).toBe('approach');
    expect(cure?.tau).toBeGreaterThan(4);
    expect(cure?.tau).toBeLessThan(9);
    expect(cure && courseAt(cure, cure.mounts[0], 60)).toBeCloseTo(38.5, 1);
  });
  it('have intervals over the mounts that hold the true change in 95 of 100 studies', () => {
    for (const [truth, of] of [
      [1.2, (t: number) => 40 + 0.02 * t],
      [0, () => 40],
    ] as const) {
      let held = 0;
      for (let study = 0; study < 1000; study++) {
        const course = fitAgeing(aged(of, { mount_sd: 0.5, slope_sd: 0.4, run_sd: 0.15, seed: study + 1 }), 0.95);
        if (course && course.change.ci[0] <= truth && truth <= course.change.ci[1]) held++;
      }
      expect(held).toBeGreaterThanOrEqual(930);
      expect(held).toBeLessThanOrEqual(970);
    }
  });
  it('that fall and rise are given no shape and no rate, only the change from first to last, which holds', () => {
    let [held, shaped] = [0, 0];
    for (let study = 0; study < 300; study++) {
      const course = fitAgeing(
        aged((t) => 40 - 1.2 * Math.sin((Math.PI * t) / 45) + 0.2 * (t / 60), {
          mount_sd: 0.5,
          slope_sd: 0.2,
          run_sd: 0.1,
          seed: study + 1,
        }),
        0.95,
      );
      const truth = -1.2 * Math.sin((Math.PI * 60) / 45) + 0.2;
      if (course?.shape !== null) shaped++;
      if (course && course.change.ci[0] <= truth && truth <= course.change.ci[1]) held++;
    }
    expect(shaped).toBeLessThan(6);
    expect(held).toBeGreaterThanOrEqual(276);
  });
  it('that are straight are told as such in 19 of 20 studies', () => {
    let shaped = 0;
    for (let study = 0; study < 300; study++)
      if (
        fitAgeing(
          aged((t) => 40 + 0.02 * t, { slope_sd: 0.2, run_sd: 0.1, seed: study + 1 }),
          0.95,
        )?.shape !== null
      )
        shaped++;
    expect(shaped).toBeGreaterThan(270);
  });
  it('of a mount that was followed for a week weigh less than those of two months', () => {
    let held = 0;
    let off = 0;
    for (let study = 0; study < 400; study++) {
      const all = aged((t) => 40 + 0.02 * t, { mounts: 5, slope_sd: 0.2, run_sd: 0.15, seed: study + 1 });
      const course = fitAgeing(
        all.filter((v) => v.mount !== '5' || v.age <= 7),
        0.95,
      );
      if (!course) continue;
      if (course.change.ci[0] <= 1.2 && 1.2 <= course.change.ci[1]) held++;
      off += (course.change.value - 1.2) ** 2 / 400;
    }
    expect(held).toBeGreaterThanOrEqual(368);
    // four mounts alone would be off by √(0.2²/4 + …); the fifth must not make it worse
    expect(Math.sqrt(off)).toBeLessThan(0.16);
  });
  it('are judged by the whole interval against the margin', () => {
    const verdictOf = (change: number, slope_sd: number) => {
      const course = fitAgeing(
        aged((t) => 40 + (change * t) / 60, { slope_sd, run_sd: 0.02, mounts: 5 }),
        0.95,
      );
      return course && ageingVerdict(course, 1);
    };
    expect(verdictOf(3, 0.2)).toBe('worse');
    expect(verdictOf(-3, 0.2)).toBe('better');
    expect(verdictOf(0.02, 0.2)).toBe('steady');
    expect(verdictOf(0.5, 0.05)).toBe('worse_within_margin');
    expect(verdictOf(0.5, 3)).toBe('unresolved');
  });
  it('with one mount hold for that mount alone, and with two ages are not told', () => {
    const one = fitAgeing(
      aged((t) => 40 + 0.02 * t, { mounts: 1, run_sd: 0.1 }),
      0.95,
    );
    expect(one?.rests_on).toBe('readings');
    expect(one?.change.df).toBe(3);
    expect(
      fitAgeing(
        aged(() => 40, { ages: [0, 30] }),
        0.95,
      ),
    ).toBeNull();
    expect(fitAgeing([], 0.95)).toBeNull();
    // mounts of one age each tell nothing of a change
    expect(
      fitAgeing(
        AGES.map((age) => ({ mount: String(age), age, value: 40 })),
        0.95,
      ),
    ).toBeNull();
  });
});
