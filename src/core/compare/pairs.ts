import { ENOUGH_DF, flipScatter, lentScatter } from './borrowedScatter';
import { blockFamily, oneWayFamily } from './families';
import { judgeMeans, type MeanError, mountError, type States } from './fixedStates';
import type { Model } from './model';
import { moreMounts } from './moreMounts';
import type { SpecimenGroup } from './oneWay';
import { boundWords, OUTCOMES } from './outcomes';
import { interpolated, outlook } from './outlook';
import { judgePair, type Yardstick } from './pairTest';
import { modulusYardstick } from './rangeTests';
import { withShared } from './sharedError';
import type { BoundedSpecimens } from './studyFindings';
import type { AnalysedPair, AnalysisOptions, PairTest, ScatterSchool, SchoolResult } from './types';
import { boundedVerdict, verdictOf, verdictSentence } from './verdict';

interface PairInput {
  model: Model;
  school: ScatterSchool;
  reference: string;
  options: AnalysisOptions;
  states: States;
  bounded: BoundedSpecimens;
}

/** Judges every pair of the family under both schools and the chosen one, with its sentence. */
export function comparePairs(input: PairInput): AnalysedPair[] {
  const { model, school, reference, options } = input;
  const { fit, blocks } = model;
  const family = blocks ? blockFamily(blocks.fit, blocks.rows, reference, options) : oneWayFamily(fit, reference, options);
  const ruler = { ...family.yardstick, critical: remembered(family.yardstick.critical) };
  const strictRuler = modulusYardstick(family.pairs.length, options.confidence);
  const strictTests = family.strict();
  const [limit, strictLimit] = [interpolated(family.yardstick.critical), interpolated(strictRuler.critical)];
  return family.pairs.map((pair, i) => {
    const lent = scatterFor(pair, input);
    // where nobody knows how it scatters between mounts, what they share alone tells no interval
    const shared = lent.sd === 0 && lent.isLent ? {} : options.shared_errors;
    const withErrors = (test: PairTest) => withShared(test, pair, shared, family.yardstick);
    const ofState = pair.some((g) => input.states.has(g.specimen));
    const testAt = (sd: number) => testWith(sd, lent.df, pair, input, ruler);
    const pooled = withErrors((ofState || lent.isLent ? null : family.pooled[i]) ?? testAt(lent.sd));
    const own = ofState ? ofStates(pair, (g) => input.states.get(g.specimen)?.separate ?? mountError(g, null), ruler) : family.separate[i];
    const strict = ofState ? null : (strictTests[i] ?? null);
    const separate = own && withErrors(own);
    const careful = strict && withShared(strict, pair, shared, strictRuler, true);
    const unpooled = school === 'strict' ? (careful ?? separate) : separate;
    const assumed = lent.isAlone ? { sd: lent.sd, flips_at: flipScatter(testAt, options.margin, lent.sd), from: lent.from } : undefined;
    const chosen = school !== 'pooled' && unpooled ? unpooled : pooled;
    const basis = { scatter: chosen === pooled ? 'pooled' : 'own', limit: chosen === careful ? strictLimit : limit } as const;
    const more = () => moreMounts(outlook(pair, chosen, basis, input));
    return judged({ pair, pooled, separate, strict: careful, chosen, assumed, more }, input);
  });
}

type Pair = [SpecimenGroup, SpecimenGroup];

/** A pair under both schools and the chosen one, before it is judged. */
interface TestedPair {
  pair: Pair;
  pooled: PairTest;
  separate: PairTest | null;
  strict: PairTest | null;
  chosen: PairTest;
  /** scatter that was assumed, and the one at which the verdict would flip; absent where both specimens show their own */
  assumed: { sd: number; flips_at: number | null; from: string | undefined } | undefined;
  /** further mounts of each that are expected to settle it */
  more: () => number | null;
}

/**
 * The scatter a pair is judged by where one of the two has a single mount: the study's own from enough degrees of freedom on, else one that
 * is lent.
 */
function scatterFor(pair: Pair, { model, options, states }: PairInput) {
  const alone = pair.filter((g) => g.n < 2 && !states.has(g.specimen));
  const isAlone = alone.length > 0 || model.sd === null;
  const known = model.sd !== null && model.df >= ENOUGH_DF;
  const lent = isAlone && !known ? lentScatter(alone, options) : null;
  return {
    isAlone,
    isLent: lent !== null,
    sd: lent?.sd ?? model.sd ?? options.default_mount_sd,
    df: lent?.df ?? model.df,
    from: lent?.from,
  };
}

/** The pair as it would be under one scatter of mounts; a state that cannot be remounted keeps the error of its runs. */
function testWith(sd: number, df: number, pair: Pair, { states }: PairInput, ruler: Yardstick): PairTest {
  const [a, b] = pair;
  const hasState = pair.some((g) => states.has(g.specimen));
  return (
    (hasState ? ofStates(pair, (g) => states.get(g.specimen)?.pooled ?? mountError(g, { sd, df }), ruler) : null) ??
    judgePair(a, b, sd * Math.sqrt(1 / a.n + 1 / b.n), df, ruler)
  );
}

function ofStates([a, b]: Pair, error: (g: SpecimenGroup) => MeanError | null, ruler: Yardstick): PairTest | null {
  const [first, second] = [error(a), error(b)];
  return first && second && judgeMeans(a, b, [first, second], ruler);
}

/** The verdict of a tested pair, whether it is firm, what would settle it, and its sentence. */
function judged(
  { pair, pooled, separate, strict, chosen, assumed, more }: TestedPair,
  { options, states, bounded }: PairInput,
): AnalysedPair {
  const [a, b] = pair;
  const { confidence, margin } = options;
  const sides = { above: pair.map((g) => bounded.above.has(g.specimen)), below: pair.map((g) => bounded.below.has(g.specimen)) };
  const cut = pair.map((g) => g.specimen).filter((_, i) => sides.above[i] || sides.below[i]);
  const judge = (test: PairTest) => boundedVerdict(verdictOf(test.ci, margin), sides);
  const underSchool = (t: PairTest): SchoolResult => ({ se: t.se, df: t.df, ci: t.ci, p_adjusted: t.p_adjusted, verdict: judge(t) });
  const schools = { pooled: underSchool(pooled), separate: separate && underSchool(separate), strict: strict && underSchool(strict) };
  // mounts that all read the same tell no interval, and without one nothing is told
  const alike = chosen.se === 0;
  const verdict = alike ? 'unresolved' : judge(chosen);
  // no scatter at all is a want of resolution, on which nothing firm rests
  const firm =
    !assumed &&
    !alike &&
    schools.separate !== null &&
    [schools.pooled, schools.separate, schools.strict].every((s) => s === null || s.verdict === verdict);
  const isOpen = verdict === 'unresolved';
  const more_mounts = !isOpen ? 0 : cut.length > 0 || alike || !options.outlook ? null : more();
  const sentence = verdictSentence({
    ...{ ...chosen, confidence, verdict, firm, margin, assumed, more_mounts: options.outlook ? more_mounts : undefined },
    outcome: OUTCOMES[options.outcome],
    bound: boundWords(options.outcome, sides.above.some(Boolean) ? 'above' : 'below'),
    mounts: [a.n, b.n],
    runs_only: [states.get(a.specimen)?.runs ?? null, states.get(b.specimen)?.runs ?? null],
    throttled: cut,
  });
  return {
    ...chosen,
    ...(alike ? { ci: null, p: null, p_adjusted: null } : {}),
    verdict,
    firm,
    more_mounts,
    ...schools,
    throttled: cut,
    sentence,
  };
}

/** Keeps the last answer of a function that is asked the same again and again. */
function remembered(f: (df: number) => number): (df: number) => number {
  let last: { df: number; value: number } | null = null;
  return (df) => {
    if (last?.df !== df) last = { df, value: f(df) };
    return last.value;
  };
}
