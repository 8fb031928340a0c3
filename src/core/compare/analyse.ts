import { tQuantile } from '../stats/distributions/t';
import { type BlockFit, blockEffect, blockMeans, fitBlocks } from './blockModel';
import { chanceCoolest } from './chanceCoolest';
import { linkedComponents } from './components';
import { blockFamily, oneWayFamily } from './families';
import { judgeMeans, type MeanError, mountError, runScatter, stateError } from './fixedStates';
import { compactLetters } from './letters';
import { chooseSchool, schoolLimits, unplannedLook } from './measuredLimits';
import { studentizedInBlocks, studentizedMounts } from './oddMounts';
import { fitOneWay, type OneWayFit, type SpecimenGroup, type SpecimenMean, specimenMeans } from './oneWay';
import { OUTCOMES, type Outcome, type OutcomeKey } from './outcomes';
import { judgePair } from './pairTest';
import { modulusYardstick } from './rangeTests';
import { type AnalysisRow, mountValues, takeUsable } from './rows';
import { brownForsythe, varianceComponents } from './scatter';
import { verdictSentence } from './sentence';
import { addErrors, type SharedError, withShared } from './sharedError';
import type { BlockBy, Finding, MountValue, PairTest, ScatterChoice, ScatterSchool, Verdict } from './types';
import { boundedVerdict, moreMounts, verdictOf } from './verdict';

export type { AnalysisRow } from './rows';

export interface AnalysisOptions {
  /** default: the first specimen of the rows */
  reference?: string;
  /** smallest difference that matters, in the outcome's unit */
  margin: number;
  confidence: number;
  scatter: ScatterChoice;
  /** whether the specimens are of one kind, whose mounts may be expected to scatter alike; for the measured choice of school */
  one_kind: boolean;
  /** all pairs, or those with the reference only */
  family: 'all' | 'reference';
  outcome: OutcomeKey;
  /** what mounts share and the comparison takes out; null for none */
  block: BlockBy | null;
  /** scatter between mounts taken for a specimen with one mount when the study itself cannot tell */
  default_mount_sd: number;
  /** scatter known from the lab's earlier work, by specimen; it goes before the default */
  borrowed: Record<string, BorrowedScatter>;
  /** specimens that are one device's own state and cannot be remounted: their mean carries run error only */
  fixed_states: string[];
  /** errors that all mounts of a specimen share, by specimen, beside the scatter of its mounts */
  shared_errors: Record<string, SharedError>;
  /** mounts at which a verdict was shown outside the planned looks, before more were added; null where none were */
  unplanned_look: number | null;
  /** whether to draw the chances of being coolest, which takes most of the time of a small comparison */
  chances: boolean;
}

/** A scatter between mounts that was not measured in the study. */
export interface BorrowedScatter {
  sd: number;
  df: number;
  /** where it comes from, for the sentence */
  from: string;
}

export const ANALYSIS_DEFAULTS: AnalysisOptions = {
  margin: 1,
  confidence: 0.95,
  scatter: 'auto',
  one_kind: true,
  family: 'all',
  outcome: 'rise',
  block: null,
  default_mount_sd: 0.5,
  borrowed: {},
  fixed_states: [],
  shared_errors: {},
  unplanned_look: null,
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
  /** specimens of the two with throttled mounts: their true value lies at or above what is left */
  throttled: string[];
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
  outcome: OutcomeKey;
  block: BlockBy | null;
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
    /** F test of the blocks, given the specimens; null without blocks */
    block_p: number | null;
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
/** An earlier scatter of the lab serves from this many degrees of freedom on. */
const ENOUGH_HISTORY_DF = 10;

/** The mounts of a study under the model it is judged by: one-way, or with blocks. */
interface Model {
  fit: OneWayFit;
  blocks: { fit: BlockFit; rows: (MountValue & { block: string })[] } | null;
  /** residual scatter and its degrees of freedom */
  sd: number | null;
  df: number;
}

/**
 * Compares specimens: mount values from runs, means, both scatter schools for all pairs, verdicts, letters, sentences.
 * Runs are averaged within their mount first and never counted as mounts.
 *
 * Limits: intervals rest on mounts that scatter normally and independently, blocks taken out where that is asked; pooled intervals on equal
 * scatter of all specimens. `docs/calibration.md` has the measured error rates.
 * @param rows one row per run; a mount's label counts within its specimen
 * @throws Error where nothing is left to compare or the reference is not among the specimens
 */
export function analyse(rows: AnalysisRow[], given: Partial<AnalysisOptions> = {}): Analysis {
  const options = { ...ANALYSIS_DEFAULTS, ...given };
  const outcome: Outcome = OUTCOMES[options.outcome];
  const findings: Finding[] = [];
  const used = takeUsable(rows, findings);
  if (used.length === 0) throw new Error('No valid run is left to compare: every row is marked invalid or excluded.');
  const model = modelOf(used, options.block, findings);
  const { fit } = model;
  const reference = options.reference ?? rows[0].specimen;
  requireReference(reference, fit, rows, options, findings);
  const alone = isolatedByRig(used, findings);

  const fewest = Math.min(...fit.groups.filter((g) => !options.fixed_states.includes(g.specimen)).map((g) => g.n));
  const school = chooseSchool(options.scatter, {
    ...{ blocked: model.blocks !== null, family: options.family, one_kind: options.one_kind },
    ...{ specimens: fit.groups.length, fewest },
  });
  const throttled = throttledSpecimens(rows, fit, findings);
  const states = statesOf(options.fixed_states, fit, used, findings);
  const pairs = comparePairs({ model, school, reference, options, outcome, states, throttled }).filter((p) => alone === null || alone(p.a, p.b));
  const means = meansOf(model, school, states, options.confidence).map((m) => withSharedMean(m, options));
  const chances = options.chances ? chanceCoolest(outcome.better === 'lower' ? means : means.map(negated), school === 'pooled') : means.map(() => null);
  // letters speak of all pairs, so a family of fewer has none
  const isWhole = options.family === 'all' && pairs.length === (fit.groups.length * (fit.groups.length - 1)) / 2;
  const letters = isWhole ? lettersOf(fit, pairs, options.confidence, outcome) : new Map<string, string>();
  const parts = varianceComponents(used);
  const odd = oddMounts(model, findings);
  oneMountFindings(model, states, findings);
  noScatterFinding(model, findings);
  if (options.block === null) daysFinding(used, findings);
  if (fit.groups.length === 1)
    findings.push({ code: 'one_specimen', severity: 'note', message: 'There is one specimen only, so there is nothing to compare it with yet.' });
  if (options.unplanned_look !== null) findings.push(unplannedLook(options.unplanned_look));
  findings.push(...schoolLimits({ school, counts: fit.groups.map((g) => g.n), brown_forsythe_p: brownForsythe(fit)?.p ?? null }));

  return {
    reference,
    margin: options.margin,
    confidence: options.confidence,
    outcome: options.outcome,
    block: options.block,
    specimens: fit.groups.map((g, i) => summarise(g.specimen, g.n, used, means[i], letters, chances[i])),
    scatter: {
      school,
      mount_sd: parts?.mount_sd ?? null,
      run_sd: parts?.run_sd ?? null,
      pooled_sd: model.sd,
      df: model.df,
      repeatability_limit: parts?.repeatability_limit ?? null,
      mount_limit: parts?.between_mount_limit ?? null,
      brown_forsythe_p: brownForsythe(fit)?.p ?? null,
      block_p: model.blocks ? (blockEffect(model.blocks.fit)?.p ?? null) : null,
    },
    pairs,
    odd_mounts: odd,
    findings,
    sentences: pairs.map((p) => p.sentence),
  };
}

function modelOf(used: AnalysisRow[], block: BlockBy | null, findings: Finding[]): Model {
  const mounts = mountValues(used, block);
  if (block === null) {
    const fit = fitOneWay(mounts);
    return { fit, blocks: null, sd: fit.sd, df: fit.df };
  }
  const rows = mounts.map((m) => ({ ...m, block: m.block ?? '' }));
  if (rows.some((r) => r.block === '' || r.block.includes('""'))) {
    const word = { day: 'bench day', rig: 'rig', 'rig-day': 'rig or bench day' }[block];
    findings.push({ code: 'block_unknown', severity: 'warn', message: `Some mounts name no ${word}; they are taken to share one of their own.` });
  }
  const fit = fitBlocks(rows);
  if (block === 'day' && Math.max(0, ...fit.component) > 0) {
    findings.push({
      code: 'day_confounded',
      severity: 'warn',
      message: 'Some specimens never share a bench day with the others, nor are they linked through days; they are not compared with them.',
    });
  }
  return { fit: fit.one_way, blocks: { fit, rows }, sd: fit.sd, df: fit.df };
}

function requireReference(reference: string, fit: OneWayFit, rows: AnalysisRow[], options: AnalysisOptions, findings: Finding[]): void {
  if (fit.groups.some((g) => g.specimen === reference)) return;
  if (options.reference !== undefined && !rows.some((r) => r.specimen === reference))
    throw new Error(`The reference ${reference} is not among the specimens (${fit.groups.map((g) => g.specimen).join(', ')}).`);
  findings.push({
    code: 'reference_missing',
    severity: 'warn',
    message: `The reference ${reference} has no valid mount yet, so nothing is compared with it.`,
  });
}

/**
 * Rigs must cross the specimens, directly or by a chain: what was measured on one rig alone cannot be told from that rig.
 * @returns which pairs can be compared; null where all can
 */
function isolatedByRig(used: AnalysisRow[], findings: Finding[]): ((a: string, b: string) => boolean) | null {
  const rigged = used.flatMap((r) => (r.rig ? [{ specimen: r.specimen, block: r.rig }] : []));
  const rigs = [...new Set(rigged.map((r) => r.block))];
  if (rigs.length < 2) return null;
  const links = linkedComponents(rigged);
  if (links.count < 2) return null;
  const sides = Array.from({ length: links.count }, (_, c) => {
    const names = (m: Map<string, number>) => [...m].filter(([, part]) => part === c).map(([name]) => name);
    return `${names(links.specimens).join(', ')} on ${names(links.blocks).join(', ')}`;
  });
  findings.push({
    code: 'rig_confounded',
    severity: 'reject',
    message: `Rig and specimen cannot be told apart: ${sides.join('; ')}. Nothing is compared across; mount one specimen on both rigs.`,
  });
  return (a, b) => links.specimens.get(a) === links.specimens.get(b);
}

/** Specimens that throttled in some of their runs and have valid ones beside them. */
function throttledSpecimens(rows: AnalysisRow[], fit: OneWayFit, findings: Finding[]): Set<string> {
  const cut = new Set(rows.filter((r) => r.censored && !r.excluded).map((r) => r.specimen));
  const names = fit.groups.map((g) => g.specimen).filter((name) => cut.has(name));
  if (names.length > 0) {
    findings.push({
      code: 'partly_throttled',
      severity: 'warn',
      message: `${names.join(', ')} throttled in some runs. Those have no value, so the mean of the others lies too low: only verdicts that a higher value would make stronger are given. Compare K/W instead.`,
    });
  }
  return new Set(names);
}

/** Errors of the states that cannot be remounted, by the scatter of all runs and by their own. */
type States = Map<string, { pooled: MeanError | null; separate: MeanError | null; runs: number }>;

function statesOf(names: string[], fit: OneWayFit, used: AnalysisRow[], findings: Finding[]): States {
  const all = runScatter(used);
  const states: States = new Map();
  for (const g of fit.groups) {
    if (!names.includes(g.specimen) || g.n !== 1) continue;
    const pooled = stateError(used, g.specimen, all);
    if (pooled === null) continue;
    const runs = used.filter((r) => r.specimen === g.specimen).length;
    states.set(g.specimen, { pooled, separate: stateError(used, g.specimen, runScatter(used, g.specimen)), runs });
    findings.push({
      code: 'fixed_state',
      severity: 'note',
      message: `${g.specimen} cannot be mounted again: it is that device's own state, so its ${runs === 1 ? 'one run carries' : `${runs} runs carry`} run error only, and what is said holds for this one device.`,
    });
  }
  return states;
}

function meansOf({ fit, blocks }: Model, school: ScatterSchool, states: States, confidence: number): SpecimenMean[] {
  const means = blocks && school === 'pooled' ? blockMeans(blocks.fit, confidence) : specimenMeans(fit, fit.sd === null ? 'separate' : school, confidence);
  return means.map((m) => {
    const state = states.get(m.specimen);
    const error = state && (school === 'pooled' ? state.pooled : (state.separate ?? state.pooled));
    if (!error) return m;
    const se = Math.sqrt(error.variance);
    const half = tQuantile((1 + confidence) / 2, error.df) * se;
    return { ...m, se, df: error.df, ci: [m.mean - half, m.mean + half] };
  });
}

function withSharedMean(m: SpecimenMean, { shared_errors, confidence }: AnalysisOptions): SpecimenMean {
  const shared = shared_errors[m.specimen];
  if (!shared || shared.se === 0 || m.se === null) return m;
  const { se, df } = addErrors([{ se: m.se, df: m.df }, shared]);
  if (df === null) return m;
  const half = tQuantile((1 + confidence) / 2, df) * se;
  return { ...m, se, df, ci: [m.mean - half, m.mean + half] };
}

const negated = (m: SpecimenMean): SpecimenMean => ({ ...m, mean: -m.mean });

interface PairInput {
  model: Model;
  school: ScatterSchool;
  reference: string;
  options: AnalysisOptions;
  outcome: Outcome;
  states: States;
  throttled: Set<string>;
}

function comparePairs({ model, school, reference, options, outcome, states, throttled }: PairInput): AnalysedPair[] {
  const { confidence, margin } = options;
  const { fit, blocks } = model;
  const family = blocks ? blockFamily(blocks.fit, blocks.rows, reference, options) : oneWayFamily(fit, reference, options);
  const yardstick = { ...family.yardstick, critical: remembered(family.yardstick.critical) };
  const strictTests = school === 'strict' ? family.strict() : [];
  const strict = modulusYardstick(family.pairs.length, confidence);
  const widened = (test: PairTest, pair: [SpecimenGroup, SpecimenGroup]) => withShared(test, pair, options.shared_errors, family.yardstick);
  return family.pairs.map(([a, b], i) => {
    const isAlone = (g: SpecimenGroup) => g.n < 2 && !states.has(g.specimen);
    const alone = isAlone(a) || isAlone(b) || model.sd === null;
    const known = model.sd !== null && model.df >= ENOUGH_DF ? { sd: model.sd, df: model.df, from: '' } : null;
    const lent = alone && !known ? lentScatter([a, b].filter(isAlone), options) : null;
    const scatter = lent ?? known ?? { sd: model.sd ?? options.default_mount_sd, df: model.df, from: '' };
    const ofState = states.has(a.specimen) || states.has(b.specimen);
    const withErrors = (error: (g: SpecimenGroup) => MeanError | null): PairTest | null => {
      const [first, second] = [error(a), error(b)];
      return first && second && judgeMeans(a, b, [first, second], yardstick);
    };
    const assuming = (sd: number): PairTest =>
      (ofState ? withErrors((g) => states.get(g.specimen)?.pooled ?? mountError(g, { ...scatter, sd })) : null) ??
      judgePair(a, b, sd * Math.sqrt(1 / a.n + 1 / b.n), scatter.df, yardstick);
    const pooledTest = widened((ofState || lent ? null : family.pooled[i]) ?? assuming(scatter.sd), [a, b]);
    const ownScatter = ofState ? withErrors((g) => states.get(g.specimen)?.separate ?? mountError(g, null)) : family.separate[i];
    const separateTest = ownScatter && widened(ownScatter, [a, b]);
    const bounded: [boolean, boolean] = [throttled.has(a.specimen), throttled.has(b.specimen)];
    const judge = (test: PairTest) => boundedVerdict(verdictOf(test.ci, margin), bounded);
    const schoolResult = (t: PairTest): SchoolResult => ({ se: t.se, df: t.df, ci: t.ci, p_adjusted: t.p_adjusted, verdict: judge(t) });
    const pooled = schoolResult(pooledTest);
    const separate = separateTest && schoolResult(separateTest);
    const strictTest = ofState ? null : (strictTests[i] ?? null);
    const ownTest = strictTest ? withShared(strictTest, [a, b], options.shared_errors, strict, true) : separateTest;
    const chosen = school !== 'pooled' && ownTest ? ownTest : pooledTest;
    const verdict = judge(chosen);
    const cut = [a, b].map((g) => g.specimen).filter((name) => throttled.has(name));
    // no scatter at all is a want of resolution, on which nothing firm rests
    const firm = separate !== null && !alone && chosen.se > 0 && [pooled, separate].every((s) => s.verdict === verdict);
    const more = verdict === 'unresolved' && cut.length > 0 ? null : verdict === 'unresolved' ? moreMounts(chosen, margin, a.n, b.n) : 0;
    const sentence = verdictSentence({
      ...chosen,
      confidence,
      verdict,
      firm,
      mounts: [a.n, b.n],
      runs_only: [states.get(a.specimen)?.runs ?? null, states.get(b.specimen)?.runs ?? null],
      margin,
      outcome,
      more_mounts: more,
      throttled: cut,
      assumed: alone ? { sd: scatter.sd, flips_at: flipScatter(assuming, margin, scatter.sd), from: lent?.from } : undefined,
    });
    return {
      ...chosen,
      verdict,
      firm,
      more_mounts: more,
      pooled,
      separate,
      throttled: cut,
      sentence,
    };
  });
}

/** Keeps the last answer of a function that is asked the same again and again. */
function remembered(f: (df: number) => number): (df: number) => number {
  let last: { df: number; value: number } | null = null;
  return (df) => {
    if (last?.df !== df) last = { df, value: f(df) };
    return last.value;
  };
}

/** Scatter for specimens of one mount that the study cannot tell: the lab's own where it rests on enough, else the stated default. */
function lentScatter(alone: SpecimenGroup[], options: AnalysisOptions): BorrowedScatter {
  const lab = alone.map((g) => options.borrowed[g.specimen]).filter((l) => l && l.df >= ENOUGH_HISTORY_DF);
  if (lab.length === 0 || lab.length < alone.length) return { sd: options.default_mount_sd, df: BORROWED_DF, from: '' };
  return lab.reduce((widest, l) => (l.sd > widest.sd ? l : widest));
}

/**
 * Scatter at which the verdict would change: verdicts change where an end of the interval meets 0 or ±margin; of those scatters the nearest to
 * the one assumed, by ratio.
 * @param testAt the pair under another scatter; its interval widens with it
 */
function flipScatter(testAt: (sd: number) => PairTest, margin: number, sd: number): number | null {
  const halfAt = (s: number) => {
    const { ci } = testAt(s);
    return (ci[1] - ci[0]) / 2;
  };
  const { difference, ci } = testAt(sd);
  if (ci[1] === ci[0]) return null;
  const now = verdictOf(ci, margin);
  const size = Math.abs(difference);
  const verdictAt = (h: number) => verdictOf([difference - h, difference + h], margin);
  const changes = [size, Math.abs(margin - size)]
    .filter((half) => half > 0 && [0.999, 1.001].some((f) => verdictAt(half * f) !== now))
    .flatMap((half) => scatterWith(halfAt, half, sd) ?? []);
  const distance = (s: number) => Math.abs(Math.log(s / sd));
  return changes.length === 0 ? null : changes.reduce((best, s) => (distance(s) < distance(best) ? s : best));
}

/** Scatter at which an interval has a half width, within a thousandfold of the one assumed. */
function scatterWith(halfAt: (sd: number) => number, half: number, sd: number): number | null {
  let [low, high] = [sd / 1000, sd * 1000];
  if (halfAt(low) > half || halfAt(high) < half) return null;
  for (let i = 0; i < 60; i++) {
    const middle = Math.sqrt(low * high);
    if (halfAt(middle) < half) low = middle;
    else high = middle;
  }
  return Math.sqrt(low * high);
}

function lettersOf(fit: OneWayFit, pairs: AnalysedPair[], confidence: number, outcome: Outcome): Map<string, string> {
  const sign = outcome.better === 'lower' ? 1 : -1;
  const ordered = [...fit.groups].sort((p, q) => sign * (p.mean - q.mean)).map((g) => g.specimen);
  const significant = pairs.filter((p) => p.p_adjusted < 1 - confidence).map((p): [string, string] => [p.a, p.b]);
  return compactLetters(ordered, significant);
}

function oddMounts({ fit, blocks }: Model, findings: Finding[]): Analysis['odd_mounts'] {
  const mounts = blocks ? studentizedInBlocks(blocks.fit, blocks.rows) : studentizedMounts(fit);
  const odd = mounts.flatMap((m) =>
    m.value !== null && m.p_bonferroni !== null && m.p_bonferroni < 0.05
      ? [{ specimen: m.specimen, mount: m.mount, studentized: m.value, p_bonferroni: m.p_bonferroni }]
      : [],
  );
  for (const m of odd) {
    findings.push({
      code: 'odd_mount',
      severity: 'warn',
      message: `Mount ${m.mount} of ${m.specimen} lies far ${m.studentized > 0 ? 'above' : 'below'} its specimen's other mounts (studentised ${m.studentized.toFixed(1)}). It is kept; look at it before you trust or exclude it.`,
      numbers: { studentized: m.studentized, p_bonferroni: m.p_bonferroni },
    });
  }
  return odd;
}

function oneMountFindings({ fit, df }: Model, states: States, findings: Finding[]): void {
  const alone = fit.groups.filter((g) => g.n < 2 && !states.has(g.specimen)).map((g) => g.specimen);
  if (alone.length === 0) return;
  findings.push({
    code: 'one_mount',
    severity: 'warn',
    message: `${alone.join(', ')} ${alone.length === 1 ? 'has' : 'have'} one mount only: ${alone.length === 1 ? 'its' : 'their'} scatter is ${df >= ENOUGH_DF ? "taken from this study's other mounts" : 'assumed'}, and no verdict with ${alone.length === 1 ? 'it' : 'them'} is firm.`,
  });
}

function noScatterFinding({ fit, sd }: Model, findings: Finding[]): void {
  if (sd !== 0 || fit.groups.every((g) => g.n < 2)) return;
  findings.push({
    code: 'no_scatter',
    severity: 'warn',
    message: 'All mounts of each specimen read the same to the last digit. No interval can be told from that; a finer reading would show the scatter.',
  });
}

/** From this p on days differ beyond doubt. */
const DAYS_DIFFER = 0.01;

/** Days that differ widen all intervals where the specimens share them: the one who compares is told to take them out. */
function daysFinding(used: AnalysisRow[], findings: Finding[]): void {
  if (used.some((r) => !r.day) || new Set(used.map((r) => r.day)).size < 2) return;
  const fit = fitBlocks(mountValues(used, 'day').map((m) => ({ ...m, block: m.block ?? '' })));
  const effect = Math.max(0, ...fit.component) === 0 ? blockEffect(fit) : null;
  if (!effect || effect.p >= DAYS_DIFFER) return;
  findings.push({
    code: 'days_differ',
    severity: 'note',
    message: `The bench days differ (p = ${effect.p < 0.0001 ? 'below 0.0001' : effect.p.toFixed(4)}), and no block takes that out: the intervals are wider than they need be. Compare by bench day.`,
    numbers: { p: effect.p },
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
