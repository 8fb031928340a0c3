import { describe, expect, it } from 'vitest';
import { powerLevels } from '#core/signal/course/powerLevels';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { seededRandom } from '#core/stats/random';
import { type LoadCourse, loadCourse } from '../../../tests/loadCourse';
import { courseEnd } from './courseEnd';

const BOOSTS = [null, { share: 1.3, s: 60 }];
const upTo = ({ t, rise, power }: LoadCourse, s: number) => {
  const to = t.findIndex((x) => x > s);
  return courseEnd(t.slice(0, to), rise.slice(0, to), power, 120);
};
const drawn = (i: number, noise_k: number, boost: (typeof BOOSTS)[number], load_s = 2400) =>
  loadCourse({ seed: 500 + i, noise_k, carried: [0, 0.5, 0.8][i % 3], interval_s: [0.5, 1, 2][(i >> 1) % 3], boost, load_s });

describe('the end of a course', () => {
  it.each(BOOSTS)(
    'lies in its interval at every stage of settling, for quiet and noisy sensors (boost %o)',
    (boost) => {
      let [held, all] = [0, 0];
      for (const noise of [0.02, 0.2])
        for (const share of [0.35, 0.5, 0.7])
          for (let i = 0; i < 15; i++) {
            const course = drawn(i, noise, boost);
            const end = upTo(course, share * course.settled_s);
            if (!end || end.high_k - end.low_k > course.end_k / 5) continue;
            all++;
            if (end.low_k <= course.end_k && course.end_k <= end.high_k) held++;
          }
      expect(all).toBeGreaterThan(65);
      expect(held / all).toBeGreaterThan(0.91);
    },
    120_000,
  );
  it.each(BOOSTS)(
    'is so near when a window closes that its mean is within a quarter of a kelvin (boost %o)',
    (boost) => {
      let within = 0;
      for (let i = 0; i < 9; i++) {
        const course = drawn(i, 0.1, boost, 3600);
        for (let s = 240; s < 3600; s += 20) {
          const [from, to] = [s - 120, s].map((x) => course.t.findIndex((t) => t > x));
          const window = slopeTest(course.t.slice(from, to), course.rise.slice(from, to), 0.2);
          const end = window?.steady ? upTo(course, s) : null;
          if (!window || !end || Math.max(end.left_high_k, -end.left_low_k) >= 0.25) continue;
          if (Math.abs(window.mean - course.end_k) < 0.25) within++;
          break;
        }
      }
      expect(within).toBeGreaterThanOrEqual(8);
    },
    120_000,
  );
  it('is not told of a course that hardly bends, nor of a handful of readings', () => {
    const course = drawn(0, 0.1, null);
    const end = upTo(course, 0.05 * course.settled_s + 25);
    expect(end === null || end.high_k - end.low_k > course.end_k / 5).toBe(true);
    expect(upTo(course, 5)).toBeNull();
  });
});

describe('levels of a power', () => {
  const t = Float64Array.from({ length: 200 }, (_, i) => i + 0.5);
  const random = seededRandom(9);
  const watts = (f: (s: number) => number) => t.map((s) => f(s) + random.normal());
  it('are one where it held, and two where a boost ended', () => {
    expect(
      powerLevels(
        t,
        watts(() => 140),
        10,
      )?.share.at(-1),
    ).toBe(1);
    const two = powerLevels(
      t,
      watts((s) => (s < 60 ? 180 : 140)),
      10,
    );
    expect(two?.share).toHaveLength(4);
    expect(two?.share[1]).toBeCloseTo(170 / 130, 2);
    expect(two?.t[2]).toBeGreaterThan(57);
    expect(two?.t[2]).toBeLessThan(63);
    expect(
      powerLevels(
        t,
        watts((s) => (s < 60 ? 141.5 : 140)),
        10,
      )?.share,
    ).toHaveLength(2);
  });
  it('are none without readings, or without a load', () => {
    expect(powerLevels(t.slice(0, 3), t.slice(0, 3), 10)).toBeNull();
    expect(
      powerLevels(
        t,
        watts(() => 10),
        20,
      ),
    ).toBeNull();
  });
});
