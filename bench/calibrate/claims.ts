/**
 * What is printed around the comparison, held against planted truths: layers of a transient and where two mounts part, the end of a live run and
 * the closing of its window, "conditioned", and the change with age. One row a claim and condition.
 */

import { judgeConditioning } from '#core/ageing/conditioned';
import { fitAgeing } from '#core/ageing/course';
import { courseEnd } from '#core/live/courseEnd';
import { seededRandom } from '#core/stats/random';
import { slopeTest } from '#core/steady/slopeTest';
import type { CauerLadder } from '#core/transient/cauer';
import { partingOf } from '#core/transient/parting';
import { readTransient } from '#core/transient/structure';
import { PRINT_KINDS, type PrintKind } from '#sim/printKinds';
import { KINDS } from '../../tests/conditioningCourses';
import { measuredJpeg } from '../../tests/jpegPrint';
import { loadCourse } from '../../tests/loadCourse';
import { type StepLog, stepLog } from '../../tests/stepLog';

/** Of one case: how many statements were made, how many held, and whether the product declined to say anything. */
interface Case {
  said: number;
  held: number;
  declined: boolean;
}

export interface Claim {
  claim: string;
  condition: string;
  /** share of statements that are to hold, percent */
  promised: [number, number];
  cases: number;
  run: (seed: number) => Case | Promise<Case>;
}

const NOTHING: Case = { said: 0, held: 0, declined: true };
const BODIES: CauerLadder[] = [
  { R: [0.06, 0.08, 0.16], C: [12, 90, 420] },
  { R: [0.12, 0.05, 0.2], C: [20, 150, 600] },
  { R: [0.1, 0.3], C: [30, 500] },
  { R: [0.05, 0.12, 0.2], C: [12, 60, 500] },
];
const of = <T>(list: T[], u: number) => list[Math.min(list.length - 1, Math.floor(u * list.length))];
const readStep = (body: CauerLadder, given: StepLog) => readTransient(stepLog(body, given), { step: 'heating', sensor: null, power_w: null });

function layers(given: (u: () => number) => StepLog): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const body = of(BODIES, random.uniform());
    const { structure } = readStep(body, { ...given(() => random.uniform()), seed });
    if (!structure) return NOTHING;
    if (structure.layers.length !== body.R.length) return { said: 1, held: 0, declined: false };
    const held = structure.layers.filter((l, i) => l.least !== null || Math.abs(l.r.value - body.R[i]) < 1.96 * l.r.se).length;
    return { said: structure.layers.length, held, declined: false };
  };
}

function parting(differ: boolean): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const u = () => random.uniform();
    const body = of(BODIES, u());
    const k = Math.floor(u() * body.R.length);
    const by = u() < 0.5 ? 1.2 + 0.4 * u() : 1 / (1.2 + 0.4 * u());
    const other = differ ? { R: body.R.map((r, i) => (i === k ? r * by : r)), C: body.C } : body;
    const interval_s = 1 / (2 + Math.floor(19 * u()));
    const log = (): StepLog => ({ interval_s, ramp_s: 2 * u(), rest_k: 3 * (2 * u() - 1), noise_k: 0.02 + 0.1 * u(), powerNoise_w: u() });
    const [a, b] = [readStep(body, { ...log(), seed: 2 * seed }), readStep(other, { ...log(), seed: 2 * seed + 1 })];
    const told = a.mount && b.mount ? partingOf(a.mount, b.mount) : null;
    if (!told) return NOTHING;
    if (!differ) return { said: 1, held: told.kind === 'alike' ? 1 : 0, declined: false };
    const sum = (n: number) => body.R.slice(0, n).reduce((x, y) => x + y, 0);
    const [truth, whole] = [sum(k), sum(body.R.length)];
    const there = told.within === null ? Math.abs((told.at?.value ?? 99) - truth) < 0.05 * whole : truth < told.within + 0.02 * whole;
    return { said: 1, held: told.kind === 'one_layer' && there ? 1 : 0, declined: false };
  };
}

const drawnCourse = (seed: number, boosted: boolean, load_s = 2400) => {
  const random = seededRandom(seed);
  const noise_k = 0.02 * 10 ** random.uniform();
  const [carried, interval_s] = [of([0, 0.5, 0.8], random.uniform()), of([0.5, 1, 2], random.uniform())];
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
      if (!window || !end || Math.max(end.left_high_k, -end.left_low_k) >= 0.25) continue;
      return { said: 1, held: Math.abs(window.mean - course.end_k) < 0.25 ? 1 : 0, declined: false };
    }
    return NOTHING;
  };
}

/** Held where "conditioned" was not said with more than a quarter of the margin left. */
function conditioned(kind: string): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const left = KINDS[kind](() => random.uniform());
    const noise = of([0.03, 0.1], random.uniform());
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

/** Held where the cover is within 5 points, or told as unsure. */
function coverTold(kind: PrintKind): Claim['run'] {
  return async (seed) => {
    const { print, truth } = await measuredJpeg(kind, seed);
    if (!print) return NOTHING;
    return { said: 1, held: print.unsure.length > 0 || Math.abs(print.cover - truth.cover) < 0.05 ? 1 : 0, declined: false };
  };
}

/** @returns how many covers were told as unsure counts as declined, as no one figure is told there */
function coverRange(kind: PrintKind): Claim['run'] {
  return async (seed) => {
    const { print, truth } = await measuredJpeg(kind, seed);
    if (!print) return NOTHING;
    return { said: 1, held: print.cover_range[0] <= truth.cover && truth.cover <= print.cover_range[1] ? 1 : 0, declined: print.unsure.length > 0 };
  };
}

const PRINTS = 25;
const HOLDS: [number, number] = [93, 99];
const both = (of_boost: (boosted: boolean) => Claim) => [of_boost(false), of_boost(true)];

/** Every claim with its conditions; the short form takes a tenth of the cases. */
export const CLAIMS: Claim[] = [
  { claim: 'Layers of a step: 95 % intervals', condition: 'clean step at 10 Hz', promised: HOLDS, cases: 60, run: layers(() => ({})) },
  {
    ...{
      claim: 'Layers of a step: 95 % intervals',
      condition: 'power rising in up to 2 s, start up to 3 K off, quiet to noisy sensor in steps of 0.1 K, 10 Hz',
      promised: HOLDS,
    },
    ...{ cases: 60, run: layers((u) => ({ ramp_s: 2 * u(), rest_k: 3 * (2 * u() - 1), noise_k: 0.01 + 0.1 * u(), powerNoise_w: u() })) },
  },
  {
    claim: 'Where two mounts part: the right layer',
    condition: 'one layer 20 to 60 % off, as above, 2 to 20 Hz',
    promised: [80, 100],
    cases: 40,
    run: parting(true),
  },
  { claim: 'Two equal mounts: alike', condition: 'as above', promised: [95, 100], cases: 40, run: parting(false) },
  ...[0.35, 0.5, 0.7].flatMap((share) =>
    both((boosted) => ({
      ...{
        claim: 'Live end value: 95 % interval',
        condition: `at ${share} of settling, ${boosted ? 'after a boost of 60 s' : 'one power'}, scatter 0.02 to 0.2 K`,
        promised: HOLDS,
      },
      ...{ cases: 200, run: liveEnd(share, boosted) },
    })),
  ),
  ...both((boosted) => ({
    ...{
      claim: 'Window closed by itself: mean within a quarter of the margin of the end',
      condition: boosted ? 'after a boost of 60 s' : 'one power',
      promised: [95, 100] as [number, number],
    },
    ...{ cases: 60, run: closing(boosted) },
  })),
  ...Object.keys(KINDS).map(
    (kind): Claim => ({ claim: '“Conditioned” not said too early', condition: kind, promised: [90, 100], cases: 100, run: conditioned(kind) }),
  ),
  {
    claim: 'Change with age: 95 % interval',
    condition: 'straight, 5 mounts',
    promised: HOLDS,
    cases: 400,
    run: ageing(
      (t) => 40 + 0.02 * t,
      () => 60,
    ),
  },
  {
    ...{ claim: 'Change with age: 95 % interval', condition: 'one of 5 mounts followed for 7 days only', promised: HOLDS },
    ...{
      cases: 400,
      run: ageing(
        (t) => 40 + 0.02 * t,
        (m) => (m === 4 ? 7 : 60),
      ),
    },
  },
  {
    ...{ claim: 'Change with age: 95 % interval', condition: 'falls, then rises', promised: HOLDS },
    ...{
      cases: 400,
      run: ageing(
        (t) => 40 - 1.2 * Math.sin((Math.PI * t) / 45) + t / 300,
        () => 60,
      ),
    },
  },
  ...(Object.keys(PRINT_KINDS) as PrintKind[]).flatMap((kind): Claim[] => [
    {
      claim: 'Cover of a print: within 5 points, or told as unsure',
      condition: PRINT_KINDS[kind],
      ...{ promised: [99, 100], cases: PRINTS, run: coverTold(kind) },
    },
    { claim: 'Cover of a print: its range', condition: PRINT_KINDS[kind], promised: [90, 100], cases: PRINTS, run: coverRange(kind) },
  ]),
];

/** Cases of one claim, one after the other. */
async function casesOf({ run, cases }: Claim, first: number, short: boolean): Promise<Case[]> {
  const all: Case[] = [];
  for (let i = 0; i < Math.max(4, short ? Math.round(cases / 10) : cases); i++) all.push(await run(first + i));
  return all;
}

/** Half the 95 % interval of a share by Wilson (1927), in percent: also where all or none held. */
function wilson(held: number, said: number): number {
  if (said === 0) return 0;
  const [p, z] = [held / said, 1.96];
  return (100 * z * Math.sqrt((p * (1 - p)) / said + (z / (2 * said)) ** 2)) / (1 + z ** 2 / said);
}

export const CLAIMS_HEADING = '## Claims around the comparison';

/** The part of docs/calibration.md on the claims around the comparison. */
export async function claimsPart(short: boolean, told: (words: string) => void = () => {}): Promise<string> {
  const rows: string[] = [];
  for (const [k, given] of CLAIMS.entries()) {
    const { claim, condition, promised } = given;
    const all = await casesOf(given, 7000 + 10_000 * k, short);
    const said = all.reduce((sum, c) => sum + c.said, 0);
    const count = all.reduce((sum, c) => sum + c.held, 0);
    const held = (100 * count) / Math.max(1, said);
    const error = wilson(count, said);
    const declined = (100 * all.filter((c) => c.declined).length) / all.length;
    const met = held + error >= promised[0] && held - error <= promised[1];
    told(`${claim}, ${condition}: ${held.toFixed(1)} % of ${said}`);
    rows.push(
      `| ${claim} | ${condition} | ${promised[0]} to ${promised[1]} | ${held.toFixed(1)} ± ${error.toFixed(1)} | ${said} | ${declined.toFixed(1)} | ${met ? 'met' : '**missed**'} |`,
    );
  }
  return [
    CLAIMS_HEADING,
    '',
    'Written by `npm run calibrate -- --claims`. Each claim is held against planted truths that are drawn anew for every case. *Held* in percent of the statements made, ± half the 95 % interval of such a share (Wilson 1927); *nothing said* in percent of the cases.',
    '',
    '| Claim | Condition | Promised | Held | Statements | Nothing said | Target |',
    '| --- | --- | ---: | ---: | ---: | ---: | --- |',
    ...rows,
    '',
  ].join('\n');
}

/** Puts that part at the end of a table, in place of the one it had. */
export function withClaims(text: string, part: string): string {
  const at = text.indexOf(CLAIMS_HEADING);
  return `${(at < 0 ? text : text.slice(0, at)).trimEnd()}\n\n${part}`;
}
