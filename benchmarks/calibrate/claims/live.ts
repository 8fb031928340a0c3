import { courseEnd } from '#core/live/courseEnd';
import { ENOUGH_LEFT } from '#core/live/follow';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { seededRandom } from '#core/stats/random';
import { loadCourse } from '../../../tests/loadCourse';
import { type Claim, NOTHING, oneOf } from './types';

const drawnCourse = (seed: number, boosted: boolean, load_s = 2400) => {
  const random = seededRandom(seed);
  const noise_k = 0.02 * 10 ** random.uniform();
  const [carried, interval_s] = [oneOf([0, 0.5, 0.8], random.uniform()), oneOf([0.5, 1, 2], random.uniform())];
  return loadCourse({ seed, noise_k, carried, interval_s, boost: boosted ? { share: 1.3, s: 60 } : null, load_s });
};
const endAt = (course: ReturnType<typeof drawnCourse>, s: number) => {
  const to = course.t.findIndex((x) => x > s);
  return courseEnd(course.t.slice(0, to), course.rise.slice(0, to), course.power, 120);
};

function liveEnd(share: number, boosted: boolean): Claim['run'] {
  return (seed) => {
    const course = drawnCourse(seed, boosted);
    const end = endAt(course, share * course.settled_s);
    if (!end || end.high_k - end.low_k > course.end_k / 5) return NOTHING;
    return { said: 1, held: end.low_k <= course.end_k && course.end_k <= end.high_k ? 1 : 0, declined: false };
  };
}

function closing(boosted: boolean): Claim['run'] {
  return (seed) => {
    const course = drawnCourse(seed, boosted, 3600);
    for (let s = 240; s < 3600; s += 10) {
      const [from, to] = [s - 120, s].map((x) => course.t.findIndex((t) => t > x));
      const window = slopeTest(course.t.slice(from, to), course.rise.slice(from, to), 0.2);
      const end = window?.steady ? endAt(course, s) : null;
      if (!window || !end || Math.max(end.left_high_k, -end.left_low_k) >= ENOUGH_LEFT) continue;
      return { said: 1, held: Math.abs(window.mean - course.end_k) < 0.25 ? 1 : 0, declined: false };
    }
    return NOTHING;
  };
}

const subject = 'live' as const;
const both = (of_boost: (boosted: boolean) => Claim) => [of_boost(false), of_boost(true)];
export const LIVE: Claim[] = [
  ...[0.35, 0.5, 0.7].flatMap((share) =>
    both((boosted) => ({
      ...{ subject, claim: 'end value: 95 % interval, careful', promised: [93, 100] as [number, number], cases: 200, clean: !boosted },
      condition: `at ${share} of settling, ${boosted ? 'after a boost of 60 s' : 'one power'}, scatter 0.02 to 0.2 K`,
      run: liveEnd(share, boosted),
    })),
  ),
  ...both((boosted) => ({
    ...{
      subject,
      claim: 'window closed by itself: mean within a quarter of the margin of the end',
      promised: [95, 100] as [number, number],
      cases: 150,
    },
    ...{ condition: boosted ? 'after a boost of 60 s' : 'one power', run: closing(boosted) },
  })),
];
