import { analyse } from '#core/compare/analyse';
import type { AnalysisRow } from '#core/compare/rows';
import type { Analysis, Verdict } from '#core/compare/types';
import { planLooks } from '#core/design/spending';
import { type Random, seededRandom } from '#core/stats/random';
import { type Condition, drawStudy } from './conditions';

/** How a study is judged: by the default school, by one of the two, or by the default with only its firm verdicts counted. */
export const JUDGES = ['default', 'pooled', 'separate', 'firm'] as const;
export type Judge = (typeof JUDGES)[number];

/** What was counted over the studies of a condition, for one judge. */
export interface Tally {
  studies: number;
  /** studies with a call in the wrong direction, or any where nothing differs */
  false_call: number;
  /** studies with a pair called tied, or within the margin, that is not */
  false_tie: number;
  /** studies in which all intervals hold the true difference */
  covered: number;
  /** studies in which the intervals could be told */
  intervals: number;
  /** studies in which the first and the last specimen were told apart in the true direction */
  found: number;
}

export const empty = (): Tally => ({ studies: 0, false_call: 0, false_tie: 0, covered: 0, intervals: 0, found: 0 });

/** A pair as one judge sees it. */
interface Judged {
  truth: number;
  verdict: Verdict;
  ci: [number, number] | null;
  isFirstToLast: boolean;
}

const GOES = { cooler: -1, cooler_within_margin: -1, warmer: 1, warmer_within_margin: 1, tied: 0, unresolved: 0 } as const;
const WITHIN = new Set<Verdict>(['tied', 'cooler_within_margin', 'warmer_within_margin']);

/** Counts one study. */
export function count(tally: Tally, pairs: Judged[], margin: number): void {
  tally.studies++;
  if (pairs.some((p) => GOES[p.verdict] !== 0 && GOES[p.verdict] !== Math.sign(p.truth))) tally.false_call++;
  if (pairs.some((p) => WITHIN.has(p.verdict) && Math.abs(p.truth) >= margin)) tally.false_tie++;
  const told = pairs.filter((p) => p.ci !== null);
  if (told.length > 0) {
    tally.intervals++;
    if (told.every((p) => p.ci && p.ci[0] <= p.truth && p.truth <= p.ci[1])) tally.covered++;
  }
  if (pairs.some((p) => p.isFirstToLast && GOES[p.verdict] === Math.sign(p.truth) && p.truth !== 0)) tally.found++;
}

/** The pairs of a study as a judge sees them; null where his school cannot tell one of them. */
export function judged(analysis: Analysis, judge: Judge, truth: Map<string, number>): Judged[] {
  const names = [...truth.keys()];
  return analysis.pairs.flatMap((p): Judged[] => {
    const view = judge === 'pooled' ? p.pooled : judge === 'separate' ? p.separate : p;
    if (!view) return [];
    return [
      {
        truth: (truth.get(p.a) ?? 0) - (truth.get(p.b) ?? 0),
        verdict: judge === 'firm' && !p.firm ? 'unresolved' : view.verdict,
        // what throttled reads too low by what was left out; its interval is not claimed
        ci: p.throttled.length > 0 ? null : view.ci,
        isFirstToLast: [p.a, p.b].includes(names[0]) && [p.a, p.b].includes(names[names.length - 1]),
      },
    ];
  });
}

/** Simulates studies of a condition from run values and counts what each judge says. */
export function tallyCondition(c: Condition, studies: number, seed: number): Record<Judge, Tally> {
  const random = seededRandom(seed);
  const truth = new Map(c.specimens.map((s) => [s.specimen, s.rise_k]));
  const tallies = Object.fromEntries(JUDGES.map((j) => [j, empty()])) as Record<Judge, Tally>;
  for (let i = 0; i < studies; i++) {
    const looks = lookAtStudy(c, random);
    if (looks.length === 0) continue;
    for (const judge of JUDGES) {
      const seen = looks.map((a) => judged(a, judge, truth));
      // a study that is looked at several times makes the calls of its first look that shows something, else those of its last
      const stops = seen.find((pairs) => pairs.some((p) => GOES[p.verdict] !== 0)) ?? seen[seen.length - 1];
      count(tallies[judge], stops, analyseMargin(c));
    }
  }
  return tallies;
}

const analyseMargin = (c: Condition) => c.options?.margin ?? 1;

function lookAtStudy(c: Condition, random: Random): Analysis[] {
  const rows = drawStudy(c, random);
  const options = {
    scatter: 'measured' as const,
    one_kind: !c.kinds_differ,
    ...c.options,
    chances: false,
    outlook: false,
    reference: c.specimens[0].specimen,
  };
  const enough = (part: AnalysisRow[]) => new Set(part.filter((r) => r.valid !== false).map((r) => r.specimen)).size > 1;
  if (!c.looks) return enough(rows) ? [analyse(rows, options)] : [];
  const { at, planned } = c.looks;
  const levels = planned ? levelsOf(at) : at.map(() => 0.95);
  return at.map((n, i) =>
    analyse(
      rows.filter((r) => Number(r.mount) <= n),
      { ...options, confidence: levels[i] },
    ),
  );
}

const known = new Map<string, number[]>();

/** Confidence of each planned look. */
function levelsOf(at: number[]): number[] {
  const key = at.join(' ');
  const levels =
    known.get(key) ??
    planLooks(
      at.map((n) => n / at[at.length - 1]),
      0.05,
    ).map((l) => 1 - l.nominal_alpha);
  known.set(key, levels);
  return levels;
}
