import { analyse } from '#core/compare/analyse';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { AnalysisRow } from '#core/compare/rows';
import type { AnalysedPair, Analysis, AnalysisOptions } from '#core/compare/types';
import type { Reached } from '#core/stability/ladder';
import { mean } from '#core/stats/moments';
import { median } from '#core/stats/quantiles';
import { scatterChoice } from '#features/study/model/scatterChoice';
import type { ResultsChoice, RunFact, StudyFacts } from './facts';
import { isOfLadder, ladderLevel, ladderReader, stepErrors } from './ladders';
import { mixedRuns } from './mixedRuns';
import { partNames, powerOfPart } from './parts';
import { sensorNames } from './sensorNames';

/** Outcomes that are temperatures over the room: where a run throttled they are a lower bound. */
const BOUNDED = new Set<OutcomeKey>(['rise', 'hottest', 'coldest', 'sensor', 'part_rise']);
/** Rises, for which the study's own margin and scatter hold. */
const RISES = new Set<OutcomeKey>(['rise', 'rise_at_power', 'hottest', 'coldest', 'sensor', 'part_rise']);
/** Outcomes that stand whether the run was steady and unthrottled or not. */
const ALWAYS = new Set<OutcomeKey>([
  'fan_speed',
  'fan_duty',
  'power',
  'exhaust',
  'noise',
  'clock',
  'throttle_share',
  'idle_rise',
  'score',
  'run_time',
  'frame_rate',
  'slow_frame_rate',
  'frame_time',
  'score_per_watt',
  'voltage',
]);
const BY_RESISTANCE = new Set<OutcomeKey>(['r_k_per_w', 'rise_at_power', 'part_resistance']);

/** What the study itself is judged by. */
export const studyChoice = (facts: StudyFacts): ResultsChoice => ({
  ...{ outcome: facts.main_outcome, scatter: facts.scatter, family: facts.family, block: facts.block, with_excluded: false },
  event: facts.main_outcome === 'time_to_event' ? (facts.runs.flatMap((r) => r.events)[0]?.event ?? null) : null,
  sensor: namedOf(facts, facts.main_outcome)[0] ?? null,
  ...(isOfLadder(facts.main_outcome) ? { at: ladderLevel(facts, facts.main_outcome) } : {}),
  load: facts.loads.length > 1 ? loadWith(facts, facts.main_outcome, facts.loads[0]) : null,
  power_w: medianPower(facts.runs),
});

/** The load under which an outcome is looked at: the one asked for, else the first that some run has a value of it under. */
export function loadWith(facts: StudyFacts, outcome: OutcomeKey, load: string | null): string | null {
  if (load === null) return null;
  const has = (name: string) =>
    knownOutcomes({ ...facts, runs: facts.runs.filter((r) => (r.load ?? facts.loads[0]) === name) }).includes(outcome);
  return has(load) ? load : (facts.loads.find(has) ?? load);
}

/**
 * What a study is looked at first: its own choice, but the resistance where the reference throttled in all its runs, for then its rise says
 * at or above only.
 */
export function leadingChoice(facts: StudyFacts): ResultsChoice {
  const own = studyChoice(facts);
  if (own.outcome !== 'rise') return own;
  const reference = facts.runs.filter((r) => r.specimen === facts.reference && r.mount_reason === null && r.run_reason === null);
  const onlyBounds = reference.some((r) => r.censored) && !reference.some((r) => r.valid);
  return onlyBounds && reference.some((r) => r.r_valid && r.values.r_k_per_w !== undefined) ? { ...own, outcome: 'r_k_per_w' } : own;
}

/** Median power of the runs that logged it, rounded to a watt; null where none did. */
function medianPower(runs: RunFact[]): number | null {
  const powers = runs.flatMap((r) => r.power_w ?? []);
  return powers.length === 0 ? null : Math.round(median(powers));
}

/** Outcomes for which at least one run has a value. */
export function knownOutcomes(facts: StudyFacts): OutcomeKey[] {
  const has = (key: OutcomeKey) =>
    facts.runs.some((r) => {
      if (key === 'time_to_event') return r.events.length > 0;
      if (key === 'sensor') return sensorNames(facts).length > 1;
      if (key === 'part_rise') return (r.parts ?? []).length > 0;
      if (key === 'part_resistance') return (r.parts ?? []).some((p) => p.r_k_per_w !== null);
      if (isOfLadder(key)) return ladderReader([r], { outcome: key, at: ladderLevel({ runs: [r] }, key) })(r) !== null;
      return readingOf(r, key, { power_w: 1 }) !== null;
    });
  return (Object.keys(OUTCOMES) as OutcomeKey[]).filter(has);
}

/** What of a choice says which runs count with which value. */
type RowChoice = Pick<ResultsChoice, 'outcome' | 'load' | 'power_w' | 'event' | 'sensor' | 'at' | 'with_excluded' | 'with_undecided'>;

/** The rows of a comparison: the runs under a load with their values of an outcome, each with why it is left out. */
export function rowsFor(facts: Pick<StudyFacts, 'runs' | 'loads'>, choice: RowChoice): AnalysisRow[] {
  const runs = facts.runs.filter(
    (r) => choice.load === null || r.load === choice.load || (r.load === null && facts.loads[0] === choice.load),
  );
  if (!isOfLadder(choice.outcome)) return runs.map((r) => rowOf(r, choice));
  const reached = ladderReader(runs, choice);
  return runs.map((r) => ladderRow(r, choice, reached(r)));
}

/** The row of a run that climbed a ladder: a value, or a bound where it passed all or none of its steps. */
function ladderRow(r: RunFact, { with_excluded, outcome }: RowChoice, reached: Reached | null): AnalysisRow {
  const byPerson = with_excluded ? null : (r.mount_reason ?? r.run_reason);
  // beyond the last step, or short of the first: which side that is depends on what is better
  const isBound = reached !== null && (reached.beyond || reached.value === null);
  const isAbove = isBound && reached.beyond === (OUTCOMES[outcome].better === 'higher');
  const bound = reached?.beyond ? 'passed every tried step' : 'failed the easiest step';
  return {
    ...{ specimen: r.specimen, mount: String(r.mount), run: String(r.run), rig: r.rig, day: r.day ?? undefined },
    reason: byPerson ?? (reached === null ? 'not measured' : isBound ? bound : undefined),
    value: reached?.value ?? reached?.short_of ?? Number.NaN,
    ...{ valid: reached !== null && !isBound, censored: isAbove, below: isBound && !isAbove, excluded: byPerson !== null },
  };
}

function rowOf(r: RunFact, choice: RowChoice): AnalysisRow {
  const { outcome } = choice;
  const event = outcome === 'time_to_event' ? r.events.find((e) => e.event === choice.event) : undefined;
  const value = event ? event.s : readingOf(r, outcome, choice);
  // what waits for a person is out of everything it may touch, unless it is asked for
  const waits = r.undecided.length > 0 && !r.censored;
  const takenIn = waits && choice.with_undecided === true;
  const stands =
    takenIn ||
    (BY_RESISTANCE.has(outcome) ? r.r_valid : outcome === 'time_to_event' ? (event?.reached ?? false) : ALWAYS.has(outcome) || r.valid);
  const bounded = (BOUNDED.has(outcome) && r.censored) || event?.reached === false;
  const byPerson = choice.with_excluded ? null : (r.mount_reason ?? r.run_reason);
  const reason =
    byPerson ??
    (bounded
      ? event
        ? 'longer than it was observed'
        : 'throttled'
      : value === null
        ? 'not measured'
        : stands
          ? undefined
          : waits
            ? 'needs a decision'
            : 'not valid');
  return {
    ...{ specimen: r.specimen, mount: String(r.mount), run: String(r.run), rig: r.rig, day: r.day ?? undefined, reason },
    value: value ?? Number.NaN,
    valid: stands && value !== null && !bounded,
    censored: bounded,
    excluded: byPerson !== null,
  };
}

function readingOf(r: RunFact, outcome: OutcomeKey, { power_w, sensor }: Pick<ResultsChoice, 'power_w' | 'sensor'>): number | null {
  if (outcome === 'sensor') return r.sensors?.[sensor ?? ''] ?? null;
  if (outcome === 'part_rise') return r.parts?.find((p) => p.part === sensor)?.rise_k ?? null;
  if (outcome === 'part_resistance') return r.parts?.find((p) => p.part === sensor)?.r_k_per_w ?? null;
  if (outcome === 'rise_at_power') {
    const resistance = r.values.r_k_per_w;
    return resistance === undefined || power_w === null ? null : resistance * power_w;
  }
  return r.values[outcome] ?? null;
}

/** Smallest difference that matters in an outcome: the study's, the rise's turned into K/W at the study's power, or the usual one. */
export function marginFor(facts: StudyFacts, outcome: OutcomeKey, part: string | null = null): number {
  if (RISES.has(outcome)) return facts.margin_k;
  const said = facts.margins[outcome];
  if (said !== undefined) return said;
  const power = powerFor(facts, outcome, part);
  if (power !== null && power > 0) return facts.margin_k / power;
  if (outcome === 'score') return scoreMargin(facts) ?? OUTCOMES.score.margin;
  return OUTCOMES[outcome].margin;
}

/** Names that an outcome is told for: sensors, or parts; none where it needs none. */
export function namedOf(facts: Pick<StudyFacts, 'runs'>, outcome: OutcomeKey): string[] {
  if (outcome === 'sensor') return sensorNames(facts);
  if (outcome === 'part_rise') return partNames(facts);
  if (outcome === 'part_resistance') return partNames(facts).filter((p) => powerOfPart(facts.runs, p) !== null);
  return [];
}

/** A hundredth of the scores at hand: a margin in points means nothing by itself. */
function scoreMargin(facts: StudyFacts): number | null {
  const scores = facts.runs.flatMap((r) => r.values.score ?? []);
  return scores.length === 0 ? null : Math.abs(mean(scores)) / 100 || null;
}

/** Watts that turn a rise into a resistance; null for outcomes that are none. */
function powerFor(facts: StudyFacts, outcome: OutcomeKey, part: string | null): number | null {
  if (outcome === 'r_k_per_w') return medianPower(facts.runs);
  return outcome === 'part_resistance' && part !== null ? powerOfPart(facts.runs, part) : null;
}

/** How a choice is judged. */
export function optionsFor(facts: StudyFacts, choice: ResultsChoice, confidence = facts.confidence): Partial<AnalysisOptions> {
  const known = new Set(rowsFor(facts, choice).map((r) => r.specimen));
  return {
    ...{
      outcome: choice.outcome,
      scatter: scatterChoice(choice.scatter),
      family: choice.family,
      block: choice.block,
      confidence,
      chances: false,
    },
    one_kind: new Set(facts.specimens.filter((s) => known.has(s.name)).map((s) => s.kind)).size < 2,
    margin: marginFor(facts, choice.outcome, choice.sensor),
    borrowed: choice.outcome === 'rise' ? facts.borrowed : {},
    default_mount_sd: defaultScatter(facts, choice.outcome, choice.sensor ?? null),
    // a state that was measured on several devices scatters by device, which the blocks take out
    fixed_states: facts.specimens.filter((s) => s.fixed && rigsOf(facts, s.name) < 2).map((s) => s.name),
    shared_errors: stepErrors(facts, choice),
    unplanned_look: facts.unplanned_look,
    ...(facts.reference !== null && known.has(facts.reference) ? { reference: facts.reference } : {}),
  };
}

const rigsOf = (facts: StudyFacts, specimen: string): number =>
  new Set(facts.runs.filter((r) => r.specimen === specimen).map((r) => r.rig)).size;

/**
 * Scatter between mounts taken where nothing tells it: stated for a rise, turned by the power for K/W; of the rest nobody knows one, which
 * 0 says.
 */
function defaultScatter(facts: StudyFacts, outcome: OutcomeKey, part: string | null): number {
  if (RISES.has(outcome)) return facts.default_mount_sd;
  const power = powerFor(facts, outcome, part);
  return power !== null && power > 0 ? facts.default_mount_sd / power : 0;
}

/** The comparison of a study under a choice; null while nothing of it is valid. */
export function compareStudy(facts: StudyFacts, choice: ResultsChoice, confidence = facts.confidence, chances = false): Analysis | null {
  const rows = rowsFor(facts, choice);
  if (!rows.some((r) => r.valid && !r.excluded)) return null;
  const analysis = naming(choice.sensor ?? null, analyse(rows, { ...optionsFor(facts, choice, confidence), chances }));
  const mixed = mixedRuns(facts, choice.outcome);
  if (mixed.length === 0) return analysis;
  // runs that were made unlike are no repeats: what they differ by is not how well one repeats
  const untold = { mount_sd: null, run_sd: null, repeatability_limit: null, mount_limit: null };
  return { ...analysis, scatter: { ...analysis.scatter, ...untold }, findings: [...mixed, ...analysis.findings] };
}

/** A comparison of one sensor or part with its name in the sentences. */
function naming(name: string | null, analysis: Analysis): Analysis {
  if (name === null || !['sensor', 'part_rise', 'part_resistance'].includes(analysis.outcome)) return analysis;
  const said = (s: string) => s.replace(/that (sensor|part)/, name).replace('resistance there than', `resistance at ${name} than`);
  const pairs = analysis.pairs.map((p) => ({ ...p, sentence: said(p.sentence) }));
  return { ...analysis, pairs, sentences: pairs.map((p) => p.sentence) };
}

/** A verdict that reads otherwise under another choice. */
export interface ChangedVerdict {
  a: string;
  b: string;
  before: string | null;
  after: string | null;
}

/** Which sentences change from one comparison to another: a verdict, its firmness, or that the pair is judged at all. */
export function changedVerdicts(before: Analysis | null, after: Analysis | null): ChangedVerdict[] {
  const key = (p: AnalysedPair) => [p.a, p.b].sort().join('\n');
  const [first, second] = [before, after].map((a) => new Map((a?.pairs ?? []).map((p) => [key(p), p])));
  return [...new Set([...first.keys(), ...second.keys()])].flatMap((k) => {
    const [p, q] = [first.get(k), second.get(k)];
    if (p && q && saysTheSame(p, q)) return [];
    const [a, b] = k.split('\n');
    return [{ a, b, before: p?.sentence ?? null, after: q?.sentence ?? null }];
  });
}

/** Do two judgements of a pair say the same, whichever of the two is named first? */
export function saysTheSame(p: AnalysedPair, q: AnalysedPair): boolean {
  const turned = {
    cooler: 'warmer',
    warmer: 'cooler',
    cooler_within_margin: 'warmer_within_margin',
    warmer_within_margin: 'cooler_within_margin',
  } as const;
  const verdict = p.a === q.a ? q.verdict : q.verdict in turned ? turned[q.verdict as keyof typeof turned] : q.verdict;
  return p.verdict === verdict && p.firm === q.firm;
}
