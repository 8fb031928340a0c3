import { pairPower } from '#core/design/pairPower';
import { CONDITIONS, type Condition, POWERS } from './conditions';
import { RAW_CONDITIONS } from './rawLogs';
import { SWEEP_CONDITIONS } from './sweeps';
import type { Judge, Tally } from './tally';

export type Counted = Map<string, Record<Judge, Tally>>;

const CONFIDENCE = [0.93, 0.97];
const ALLOWED = 0.05;

const share = (n: number, of: number) => (of === 0 ? Number.NaN : n / of);
/** Monte Carlo standard error of a share. */
const error = (p: number, n: number) => Math.sqrt((p * (1 - p)) / n);

/** A share in percent with twice its Monte Carlo error. */
function cell(n: number, of: number): string {
  if (of === 0) return '–';
  const p = share(n, of);
  return `${(100 * p).toFixed(1)} ± ${(200 * error(p, of)).toFixed(1)}`;
}

/** Is a rate clearly above what is allowed, beyond its Monte Carlo error? */
const isAbove = (n: number, of: number) => of > 0 && share(n, of) - 2 * error(share(n, of), of) > ALLOWED;

function isOutside(t: Tally): boolean {
  const p = share(t.covered, t.intervals);
  const e = 2 * error(p, t.intervals);
  return t.intervals > 0 && (p + e < CONFIDENCE[0] || p - e > CONFIDENCE[1]);
}

const HEAD = [
  '| Condition | Studies | False firm calls | False calls, default school | pooled | separate | False ties | Intervals hold, default | pooled | separate |',
  '| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |',
];

function rows(counted: Counted, list: { key: string; says: string }[]): string[] {
  return list.flatMap(({ key, says }) => {
    const t = counted.get(key);
    if (!t) return [];
    const calls = (j: Judge) => cell(t[j].false_call, t[j].studies);
    return [
      `| ${says} | ${t.default.studies} | ${calls('firm')} | ${calls('default')} | ${calls('pooled')} | ${calls('separate')} | ${cell(t.default.false_tie, t.default.studies)} | ${cell(t.default.covered, t.default.intervals)} | ${cell(t.pooled.covered, t.pooled.intervals)} | ${cell(t.separate.covered, t.separate.intervals)} |`,
    ];
  });
}

/** The part of the table on coolers, which can be counted by itself. */
export function sweepPart(counted: Counted): string {
  return [
    '## Coolers at equal noise',
    '',
    'Every mount is run at four fan speeds with a sound meter beside it; curves are fitted, each mount’s value is read at the noise, and the error of the curves goes into every pair.',
    '',
    ...HEAD,
    ...rows(counted, SWEEP_CONDITIONS),
    '',
  ].join('\n');
}

/** Puts the part on coolers into a table that is written already, in place of the one it had. */
export function withSweepPart(text: string, part: string): string {
  const before = text.indexOf('## Coolers at equal noise');
  const power = text.indexOf('## Power');
  return `${text.slice(0, before < 0 ? power : before)}${part}\n${text.slice(power)}`;
}

/** The table of docs/calibration.md. */
export function table(counted: Counted): string {
  return [
    '# Calibration of the verdicts',
    '',
    'Written by `npm run calibrate` (`benchmarks/calibrate`); do not edit by hand. All figures in percent, ± twice the Monte Carlo error.',
    '',
    'A **call** is a verdict "cooler" or "warmer", within the margin or not. It is false where it goes the wrong way, and always where nothing differs. A study counts once, however many of its pairs are called (family-wise). A **firm** call is one that the default, the pooled and the separate school make; of the others the product says that they lean on the scatter assumption. A **false tie** is "tied" or "within the margin" said of a pair that differs by the margin or more. **Intervals hold** where all intervals of a study hold the true differences at once; those of specimens that throttled are not claimed and not counted. The default school of a study that leaves the choice open is the pooled one where blocks are taken out, or where any specimen has under 4 mounts and all are of one kind; among 3 specimens or more on fewer than 10 mounts the strict one (each its own scatter, Dunnett’s T3), also on under 4 mounts of several kinds; else the separate one (Games–Howell; Welch–Holm against the reference). The rule by the number of mounts alone, which the command `analyse` follows with `--scatter auto`, is the pooled column under 4 mounts and the separate one from there on. Targets: false calls and ties at most 5 %, intervals 93 to 97 %, power within 5 points of the formula.',
    '',
    '## From raw logs',
    '',
    'A simulated rig is loaded, its readings are written as a log, the log is read, reduced and compared as a person’s would be.',
    '',
    ...HEAD,
    ...rows(counted, RAW_CONDITIONS),
    '',
    '## From run values',
    '',
    'Mounts scatter by 0.5 K and runs by 0.15 K where nothing else is said; 3 runs on each mount.',
    '',
    ...HEAD,
    ...rows(counted, CONDITIONS),
    '',
    sweepPart(counted),
    '## Power',
    '',
    'Chance to tell a specimen from the reference when it is δ = 1 K, 2 K and 3 K warmer, beside the formula of the plan (noncentral t, Bonferroni over the pairs; for the default that of each its own scatter).',
    '',
    '| Condition | Studies | Default | Formula | Pooled | Formula | Separate | Formula |',
    '| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: |',
    ...POWERS.flatMap((c) => {
      const t = counted.get(c.key);
      if (!t) return [];
      const formula = (school: 'pooled' | 'separate') => (100 * plannedPower(c, school)).toFixed(1);
      return [
        `| ${c.says} | ${t.pooled.studies} | ${cell(t.default.found, t.default.studies)} | ${formula('separate')} | ${cell(t.pooled.found, t.pooled.studies)} | ${formula('pooled')} | ${cell(t.separate.found, t.separate.studies)} | ${formula('separate')} |`,
      ];
    }),
    '',
    '## Where a target is missed, and why',
    '',
    ...missed(counted),
    '',
  ].join('\n');
}

/** The plan's formula for the power between the first and the last specimen. */
function plannedPower(c: Condition, school: 'pooled' | 'separate'): number {
  const k = c.specimens.length;
  const n = c.specimens[0].mounts;
  const sd = Math.hypot(c.specimens[0].mount_sd, c.run_sd / Math.sqrt(c.runs));
  const df = school === 'pooled' ? k * (n - 1) : 2 * (n - 1);
  const difference = c.specimens[k - 1].rise_k - c.specimens[0].rise_k;
  return pairPower((difference / sd) * Math.sqrt(n / 2), df, 0.05 / ((k * (k - 1)) / 2));
}

const WHY: Record<string, string> = {
  equal_5: 'Monte Carlo draws of this size can tell such a difference; see the figure.',
  equal_3: 'as for five mounts; see the figure.',
  eight_5: 'Games–Howell is known to call too often with many specimens on few mounts each, so it is not the default there.',
  kinds_8: 'as above, and the pooled school leaves the unequal scatter out; neither is the default there.',
  unequal_10: 'the pooled school is not claimed for unequal scatter.',
  unequal_5:
    'the pooled school is not claimed for unequal scatter, and Games–Howell calls a little too often on few mounts; neither is the default there.',
  unequal_3:
    'three mounts do not tell a scatter: the pooled school is not claimed for unequal scatter, and Games–Howell calls too often. Neither is the default for several kinds; specimens of one kind that scatter so are judged by the pooled one, and the product says so where the test for equal scatter shows it.',
  pair_5: 'the pooled school is not claimed for unequal scatter.',
  lost: 'a specimen that scatters widest and has fewest mounts is the worst case of both schools; neither is the default there.',
  unbalanced: 'beyond what the two schools claim: very unequal scatter with very unequal numbers of mounts; neither is the default there.',
  reference: 'Holm’s steps judge, but the intervals shown beside them are Bonferroni’s, which are wider: too careful.',
  days_unblocked:
    'every specimen shares each day, so that the shift of the days widens the intervals and cancels in the differences: too careful, not too bold. The product notes the days that differ; block by day.',
  one_mount: 'the scatter is credited with 10 degrees of freedom though it is true here: too careful.',
  looks_planned: 'the spending keeps the error of one pair; the widest of several pairs is looked at anew each time.',
  looks_added:
    'mounts added until something shows: no school is claimed for it; the product warns of it with this figure, and planned looks keep the rate.',
  before_after: 'one state is judged by the scatter of runs alone, which few degrees of freedom tell; the default school keeps the rate.',
  throttled: 'what throttled is left out of the intervals; a specimen near the limit has few mounts left: too careful.',
  odd: 'odd mounts that are kept widen every interval: too careful.',
  raw_mishaps: 'odd mounts that are kept widen every interval: too careful.',
};

function missed(counted: Counted): string[] {
  const lines = [...RAW_CONDITIONS, ...CONDITIONS, ...SWEEP_CONDITIONS].flatMap(({ key, says }) => {
    const t = counted.get(key);
    if (!t) return [];
    const schools = ['pooled', 'separate'] as const;
    const parts = [
      ...(isAbove(t.firm.false_call, t.firm.studies) ? ['firm calls'] : []),
      ...(isAbove(t.default.false_call, t.default.studies) ? ['calls of the default school'] : []),
      ...schools.flatMap((s) => (isAbove(t[s].false_call, t[s].studies) ? [`calls of the ${s} school`] : [])),
      ...(isOutside(t.default) ? ['intervals of the default school'] : []),
      ...schools.flatMap((s) => (isOutside(t[s]) ? [`intervals of the ${s} school`] : [])),
    ];
    return parts.length === 0 ? [] : [`- *${says}*: ${parts.join(', ')}. Why: ${WHY[key] ?? 'see the figures.'}`];
  });
  const all = [...lines, ...missedPower(counted)];
  return all.length === 0 ? ['Nowhere.'] : all;
}

/** Points by which a share found may lie off the formula of the plan. */
const POWER_POINTS = 5;

function missedPower(counted: Counted): string[] {
  return POWERS.flatMap((c) => {
    const t = counted.get(c.key);
    if (!t) return [];
    const off = (['default', 'pooled', 'separate'] as const).flatMap((s) => {
      const points = 100 * (share(t[s].found, t[s].studies) - plannedPower(c, s === 'pooled' ? 'pooled' : 'separate'));
      return Math.abs(points) > POWER_POINTS
        ? [`power of the ${s} school ${Math.abs(points).toFixed(1)} points ${points > 0 ? 'above' : 'below'} the formula`]
        : [];
    });
    const why =
      'the plan parts the error over the pairs by Bonferroni, the verdict by the studentized range, which finds more: the plan promises too little, not too much.';
    return off.length === 0 ? [] : [`- *${c.says}*: ${off.join(', ')}. Why: ${c.specimens.length > 2 ? why : 'see the figures.'}`];
  });
}

/** Conditions in which the default school is the strict one. */
const STRICT = ['equal_5', 'eight_5', 'kinds_8', 'unequal_5', 'unequal_3', 'lost', 'unbalanced', 'odd'];
/** Mounts added until something shows are a misuse that no school is claimed for. */
const CLAIMED = [...CONDITIONS, ...RAW_CONDITIONS, ...SWEEP_CONDITIONS].map((c) => c.key).filter((key) => key !== 'looks_added');

/** The figures that the product shows, as a module. */
export function figuresModule(counted: Counted): string {
  const rate = (key: string, judge: Judge) => {
    const t = counted.get(key)?.[judge];
    return t ? Number(share(t.false_call, t.studies).toFixed(4)) : Number.NaN;
  };
  const both = (key: string, judge: Judge) => `{ all: ${rate(key, judge)}, firm: ${rate(key, 'firm')} }`;
  const most = (judge: Judge, keys: string[]) => Math.max(...keys.filter((key) => counted.has(key)).map((key) => rate(key, judge)));
  return `/** Error rates measured by \`npm run calibrate\`, which writes this file; docs/calibration.md has the whole table. */
export const CALIBRATION = {
  added_mounts: { nominal: ${rate('equal_3', 'default')}, until_settled: ${rate('looks_added', 'default')} },
  pooled_equal: ${both('equal_5', 'pooled')},
  pooled_unequal: ${both('unequal_3', 'pooled')},
  separate_ten: ${both('unequal_10', 'separate')},
  separate_five: ${both('unequal_5', 'separate')},
  separate_many: ${both('eight_5', 'separate')},
  /** the largest share of studies with a false call by the strict school where it is the default */
  strict_most: ${most('default', STRICT)},
  /** the largest share with a false call by the default school, mounts added after a look apart */
  default_most: ${most('default', CLAIMED)},
  /** the largest share of studies with a firm false call, mounts added after a look apart */
  firm_most: ${most('firm', CLAIMED)},
};
`;
}
