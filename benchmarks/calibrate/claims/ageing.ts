import { seededRandom } from '#core/stats/random';
import { judgeConditioning } from '#core/thermal/ageing/conditioned';
import { fitAgeing } from '#core/thermal/ageing/course';
import { KINDS } from '../../../tests/conditioningCourses';
import { type Claim, HOLDS, NOTHING, oneOf } from './types';

/** Held where "conditioned" was not said with more than a quarter of the margin left. */
function conditioned(kind: string): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const left = KINDS[kind](() => random.uniform());
    const noise = oneOf([0.03, 0.1], random.uniform());
    const values: number[] = [];
    for (let i = 0; i < 24; i++) {
      values.push(40 + left(i) + noise * random.normal());
      if (judgeConditioning(values, noise, 1).conditioned) return { said: 1, held: Math.abs(left(i)) <= 0.25 ? 1 : 0, declined: false };
    }
    return { said: 1, held: 1, declined: true };
  };
}

function ageing(value: (age: number) => number, last: (mount: number) => number): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const rows = Array.from({ length: 5 }, (_, m) => {
      const [level, steeper] = [0.5 * random.normal(), 0.2 * random.normal()];
      return [0, 7, 14, 30, 60]
        .filter((age) => age <= last(m))
        .map((age) => ({ mount: String(m), age, value: value(age) + level + (steeper * age) / 60 + 0.1 * random.normal() }));
    }).flat();
    const course = fitAgeing(rows, 0.95);
    if (!course) return NOTHING;
    const truth = value(60) - value(0);
    return { said: 1, held: course.change.ci[0] <= truth && truth <= course.change.ci[1] ? 1 : 0, declined: false };
  };
}

const subject = 'ageing' as const;
export const AGEING: Claim[] = [
  ...Object.keys(KINDS).map(
    (kind): Claim => ({
      subject,
      claim: '“conditioned” not said too early',
      condition: kind,
      promised: [90, 100],
      cases: 100,
      run: conditioned(kind),
    }),
  ),
  {
    ...{ subject, claim: 'change with age: 95 % interval', condition: 'straight, 5 mounts', promised: HOLDS, cases: 400, clean: true },
    run: ageing(
      (t) => 40 + 0.02 * t,
      () => 60,
    ),
  },
  {
    ...{
      subject,
      claim: 'change with age: 95 % interval',
      condition: 'one of 5 mounts followed for 7 days only',
      promised: HOLDS,
      cases: 400,
    },
    run: ageing(
      (t) => 40 + 0.02 * t,
      (m) => (m === 4 ? 7 : 60),
    ),
  },
  {
    ...{ subject, claim: 'change with age: 95 % interval', condition: 'falls, then rises', promised: HOLDS, cases: 400 },
    run: ageing(
      (t) => 40 - 1.2 * Math.sin((Math.PI * t) / 45) + t / 300,
      () => 60,
    ),
  },
];
