import { mean } from '../stats/moments';
import { chanceCoolest } from './chanceCoolest';
import { compactLetters } from './letters';
import { studentizedMounts } from './oddMounts';
import { fitOneWay, type OneWayFit, type SpecimenGroup, type SpecimenMean, specimenMeans } from './oneWay';
import { judgePair, type Yardstick } from './pairTest';
import { gamesHowell, pairsOf, rangeYardstick, tukeyKramer } from './rangeTests';
import { dunnett, dunnettYardstick, welchHolm } from './referenceTests';
import { brownForsythe, varianceComponents } from './scatter';
import { verdictSentence } from './sentence';
import { type Finding, type MountValue, OUTCOMES, type Outcome, type PairTest, type ScatterSchool, type Verdict } from './types';
import { moreMounts, verdictOf } from './verdict';

/** One run (or one typed mount value) as it enters a comparison. */
export interface AnalysisRow {
  specimen: string;
  mount: string;
  run?: string;
  value: number;
  valid?: boolean;
  excluded?: boolean;
  reason?: string;
}

export interface AnalysisOptions {
  /** default: the first specimen of the rows */
  reference?: string;
  /** smallest difference that matters, in the outcome's unit */
  margin: number;
  confidence: number;
  scatter: ScatterSchool | 'auto';
  /** all pairs, or those with the reference only */
  family: 'all' | 'reference';
  outcome: Outcome['key'];
  /** scatter between mounts taken for a specimen with one mount when the study itself cannot tell */
  default_mount_sd: number;
  /** whether to draw the chances of being coolest, which takes most of the time of a small comparison */
  chances: boolean;
}

export const ANALYSIS_DEFAULTS: AnalysisOptions = {
  margin: 1,
  confidence: 0.95,
  scatter: 'auto',
  family: 'all',
  outcome: 'rise',
  default_mount_sd: 0.5,
  chances: true,
};

export interface SchoolResult {
  se: number;
  df: number | null;
  ci: [number, number];
  p_adjusted: number;
  verdict: Verdict;
}

export interface AnalysedPair extends PairTest {
  verdict: Verdict;
  firm: boolean;
  /** further mounts of each expected to settle an unresolved pair; null where no reachable number would */
  more_mounts: number | null;
  pooled: SchoolResult | null;
  separate: SchoolResult | null;
  sentence: string;
}

export interface AnalysedSpecimen {
  specimen: string;
  mounts: number;
  runs: number;
  mean: number;
  se: number | null;
  df: number | null;
  ci: [number, number] | null;
  sd_mounts: number | null;
  group: string;
  chance_coolest: number | null;
}

export interface Analysis {
  reference: string;
  margin: number;
  confidence: number;
  outcome: Outcome['key'];
  specimens: AnalysedSpecimen[];
  scatter: {
    school: ScatterSchool;
    mount_sd: number | null;
    run_sd: number | null;
    pooled_sd: number | null;
    df: number;
    repeatability_limit: number | null;
    mount_limit: number | null;
    brown_forsythe_p: number | null;
  };
  pairs: AnalysedPair[];
  odd_mounts: { specimen: string; mount: string; studentized: number; p_bonferroni: number }[];
  findings: Finding[];
  sentences: string[];
}

/** Degrees of freedom that a scatter not measured in this study is credited with. */
const BORROWED_DF = 10;
/** The study's own pooled scatter serves specimens of one mount from this many degrees of freedom on. */
const ENOUGH_DF = 4;

/**
 * Compares specimens: mount values from runs, means, both scatter schools for all pairs, verdicts, letters, sentences.
 * Runs are averaged within their mount first and never counted as mounts.
 * @param rows one row per run; a mount's label counts within its specimen
 * @throws Error where nothing is left to compare or the reference is not among the specimens
 */
export function analyse(rows: AnalysisRow[], given: Partial<AnalysisOptions> = {}): Analysis {
  const options = { ...ANALYSIS_DEFAULTS, ...given };
  const outcome = OUTCOMES[options.outcome];
  const findings: Finding[] = [];
  const used = takeUsable(rows, findings);
  if (used.length === 0) throw new Error('No valid run is left to compare: every row is marked invalid or excluded.');
  const mounts = mountValues(used);
  const fit = fitOneWay(mounts);
  const reference = options.reference ?? rows[0].specimen;
  if (!fit.groups.some((g) => g.specimen === reference)) {
    if (options.reference === undefined || rows.some((r) => r.specimen === reference)) {
      findings.push({
        code: 'reference_missing',
        severity: 'warn',
        message: `The reference ${reference} has no valid mount yet, so nothing is compared with it.`,
      });
    } else {
      throw new Error(`The reference ${reference} is not among the specimens (${fit.groups.map((g) => g.specimen).join(', ')}).`);
    }
  }

  const fewest = Math.min(...fit.groups.map((g) => g.n));
  const school: ScatterSchool = options.scatter === 'auto' ? (fewest < 4 ? 'pooled' : 'separate') : options.scatter;
  const pairs = comparePairs(fit, school, reference, options, outcome);
  const means = specimenMeans(fit, fit.sd === null ? 'separate' : school, options.confidence);
  const chances = options.chances ? chanceCoolest(means, school === 'pooled') : means.map(() => null);
  // letters speak of all pairs, so a family of fewer has none
  const letters = options.family === 'all' ? lettersOf(fit, pairs, options.confidence) : new Map<string, string>();
  const runScatter = varianceComponents(used);
  const odd = oddMounts(fit, findings, outcome);
  oneMountFindings(fit, findings);
  if (fit.groups.length === 1) {
    findings.push({ code: 'one_specimen', severity: 'note', message: 'There is one specimen only, so there is nothing to compare it with yet.' });
  }

  return {
    reference,
    margin: options.margin,
    confidence: options.confidence,
    outcome: outcome.key,
    specimens: fit.groups.map((g, i) => summarise(g.specimen, g.n, used, means[i], letters, chances[i])),
    scatter: {
      school,
      mount_sd: runScatter?.mount_sd ?? null,
      run_sd: runScatter?.run_sd ?? null,
      pooled_sd: fit.sd,
      df: fit.df,
      repeatability_limit: runScatter?.repeatability_limit ?? null,
      mount_limit: runScatter?.between_mount_limit ?? null,
      brown_forsythe_p: brownForsythe(fit)?.p ?? null,
    },
    pairs,
    odd_mounts: odd,
    findings,
    sentences: pairs.map((p) => p.sentence),
  };
}

/** Mean of the runs of each mount, in the order of first appearance. */
export function mountValues(rows: AnalysisRow[]): MountValue[] {
  const runs = new Map<string, { specimen: string; mount: string; values: number[] }>();
  for (const row of rows) {
    const key = JSON.stringify([row.specimen, row.mount]);
    const known = runs.get(key);
    if (known) known.values.push(row.value);
    else runs.set(key, { specimen: row.specimen, mount: row.mount, values: [row.value] });
  }
  return Array.from(runs.values(), ({ specimen, mount, values }) => ({ specimen, mount, value: mean(values) }));
}

function takeUsable(rows: AnalysisRow[], findings: Finding[]): AnalysisRow[] {
  const left = rows.filter((r) => r.valid === false || r.excluded === true);
  if (left.length > 0) {
    const named = left.map((r) => {
      const why = r.excluded ? r.reason || 'no reason given' : r.reason || 'not valid';
      return `${r.specimen} mount ${r.mount}${r.run ? ` run ${r.run}` : ''} (${why})`;
    });
    findings.push({
      code: 'excluded_mounts',
      severity: 'note',
      message: `${left.length === 1 ? '1 run is' : `${left.length} runs are`} left out: ${named.join('; ')}.`,
      numbers: { runs: left.length },
    });
  }
  return rows.filter((r) => r.valid !== false && r.excluded !== true);
}

/** The pairs that are judged together, under both schools. */
interface Family {
  pairs: [SpecimenGroup, SpecimenGroup][];
  pooled: PairTest[];
  separate: (PairTest | null)[];
  /** for a pair whose scatter is not measured here */
  yardstick: Yardstick;
}

function familyOf(fit: OneWayFit, reference: string, { family, confidence }: AnalysisOptions): Family {
  if (family === 'all') {
    const yardstick = rangeYardstick(fit.groups.length, confidence);
    return { pairs: pairsOf(fit.groups), pooled: tukeyKramer(fit, confidence), separate: gamesHowell(fit, confidence), yardstick };
  }
  const base = fit.groups.find((g) => g.specimen === reference);
  const others = fit.groups.filter((g) => g !== base);
  if (!base || others.length === 0) return { pairs: [], pooled: [], separate: [], yardstick: rangeYardstick(2, confidence) };
  const pairs = others.map((g): [SpecimenGroup, SpecimenGroup] => [g, base]);
  return { pairs, pooled: dunnett(fit, base, confidence), separate: welchHolm(pairs, confidence), yardstick: dunnettYardstick(base, others, confidence) };
}

function comparePairs(fit: OneWayFit, school: ScatterSchool, reference: string, options: AnalysisOptions, outcome: Outcome): AnalysedPair[] {
  const { confidence, margin } = options;
  const family = familyOf(fit, reference, options);
  return family.pairs.map(([a, b], i) => {
    const alone = a.n < 2 || b.n < 2;
    const borrowed = alone && fit.df < ENOUGH_DF;
    const sd = borrowed || fit.sd === null ? options.default_mount_sd : fit.sd;
    const pooledTest = borrowed ? judgePair(a, b, sd * Math.sqrt(1 / a.n + 1 / b.n), BORROWED_DF, family.yardstick) : family.pooled[i];
    const separateTest = family.separate[i];
    const pooled = schoolResult(pooledTest, margin);
    const separate = separateTest && schoolResult(separateTest, margin);
    const chosen = school === 'separate' && separateTest ? separateTest : pooledTest;
    const verdict = verdictOf(chosen.ci, margin);
    const firm = separate !== null && pooled.verdict === separate.verdict;
    const more = verdict === 'unresolved' ? moreMounts(chosen, margin, a.n, b.n) : 0;
    const sentence = verdictSentence({
      ...chosen,
      confidence,
      verdict,
      firm,
      mounts: [a.n, b.n],
      margin,
      outcome,
      more_mounts: more,
      assumed: alone ? { sd, flips_at: flipScatter(pooledTest, margin, sd) } : undefined,
    });
    return { ...chosen, verdict, firm, more_mounts: more, pooled, separate, sentence };
  });
}

function schoolResult(test: PairTest, margin: number): SchoolResult {
  return { se: test.se, df: test.df, ci: test.ci, p_adjusted: test.p_adjusted, verdict: verdictOf(test.ci, margin) };
}

/**
 * Scatter at which the verdict would change. The half width of the interval is proportional to the scatter, and verdicts change
 * where an end of the interval meets 0 or ±margin: of those scatters the nearest to the one assumed, by ratio.
 */
function flipScatter(test: PairTest, margin: number, sd: number): number | null {
  const half = (test.ci[1] - test.ci[0]) / 2;
  if (half === 0) return null;
  const now = verdictOf(test.ci, margin);
  const size = Math.abs(test.difference);
  const edges = [size, Math.abs(margin - size)].filter((h) => h > 0).map((h) => (h / half) * sd);
  const changes = edges.filter((edge) =>
    [0.999, 1.001].some((f) => {
      const h = (half * edge * f) / sd;
      return verdictOf([test.difference - h, test.difference + h], margin) !== now;
    }),
  );
  const distance = (s: number) => Math.abs(Math.log(s / sd));
  return changes.length === 0 ? null : changes.reduce((best, s) => (distance(s) < distance(best) ? s : best));
}

function lettersOf(fit: OneWayFit, pairs: AnalysedPair[], confidence: number): Map<string, string> {
  const ordered = [...fit.groups].sort((p, q) => p.mean - q.mean).map((g) => g.specimen);
  const significant = pairs.filter((p) => p.p_adjusted < 1 - confidence).map((p): [string, string] => [p.a, p.b]);
  return compactLetters(ordered, significant);
}

function oddMounts(fit: OneWayFit, findings: Finding[], outcome: Outcome): Analysis['odd_mounts'] {
  const odd = studentizedMounts(fit).flatMap((m) =>
    m.value !== null && m.p_bonferroni !== null && m.p_bonferroni < 0.05
      ? [{ specimen: m.specimen, mount: m.mount, studentized: m.value, p_bonferroni: m.p_bonferroni }]
      : [],
  );
  for (const m of odd) {
    findings.push({
      code: 'odd_mount',
      severity: 'warn',
      message: `Mount ${m.mount} of ${m.specimen} lies far ${m.studentized > 0 ? 'above' : 'below'} its specimen's other mounts (studentised ${m.studentized.toFixed(1)}). It is kept; look at it before you trust or exclude it.`,
      numbers: { studentized: m.studentized, p_bonferroni: m.p_bonferroni, digits: outcome.digits },
    });
  }
  return odd;
}

function oneMountFindings(fit: OneWayFit, findings: Finding[]): void {
  const alone = fit.groups.filter((g) => g.n < 2).map((g) => g.specimen);
  if (alone.length === 0) return;
  findings.push({
    code: 'one_mount',
    severity: 'warn',
    message: `${alone.join(', ')} ${alone.length === 1 ? 'has' : 'have'} one mount only: ${alone.length === 1 ? 'its' : 'their'} scatter is ${fit.df >= ENOUGH_DF ? "taken from this study's other mounts" : 'assumed'}, and no verdict with ${alone.length === 1 ? 'it' : 'them'} is firm.`,
  });
}

function summarise(
  specimen: string,
  mounts: number,
  used: AnalysisRow[],
  m: SpecimenMean,
  letters: Map<string, string>,
  chance: number | null,
): AnalysedSpecimen {
  return {
    specimen,
    mounts,
    runs: used.filter((r) => r.specimen === specimen).length,
    mean: m.mean,
    se: m.se,
    df: m.df,
    ci: m.ci,
    sd_mounts: m.sd,
    group: letters.get(specimen) ?? '',
    chance_coolest: chance,
  };
}
