import { tQuantile } from '#core/stats/distributions/t';
import { blockEffect, blockMeans } from './blockModel';
import { ENOUGH_DF, lentScatter } from './borrowedScatter';
import { chanceCoolest } from './chanceCoolest';
import { type States, statesOf } from './fixedStates';
import { lettersOf } from './letters';
import { chooseSchool, schoolLimits, unplannedLook } from './measuredLimits';
import { fitModel, type Model } from './model';
import { oddMounts } from './oddMounts';
import { type SpecimenMean, specimenMeans } from './oneWay';
import { OUTCOMES, type Outcome } from './outcomes';
import { comparePairs } from './pairs';
import { type AnalysisRow, takeUsable } from './rows';
import { brownForsythe, varianceComponents } from './scatter';
import { addErrors } from './sharedError';
import {
  type BoundedSpecimens,
  boundedSpecimens,
  daysFinding,
  isolatedByRig,
  noScatterFinding,
  oneMountFinding,
  requireReference,
} from './studyFindings';
import type { AnalysedSpecimen, Analysis, AnalysisOptions, Finding, ScatterSchool } from './types';

const ANALYSIS_DEFAULTS: AnalysisOptions = {
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
  outlook: true,
};

/**
 * Compares specimens: mount values from runs, means, all three scatter schools for all pairs, verdicts, letters, sentences.
 * Runs are averaged within their mount first and never counted as mounts.
 *
 * Limits: intervals rest on mounts that scatter normally and independently, blocks taken out where that is asked; pooled intervals on equal
 * scatter of all specimens. `docs/calibration.md` has the measured error rates.
 * @param rows one row per run; a mount's label counts within its specimen
 * @throws Error where nothing is left to compare or the reference is not among the specimens
 * @example analyse([{ specimen: 'Loam White', mount: '1', value: 41.3 }, …], { margin: 1, reference: 'Loam White' }).sentences
 */
export function analyse(rows: AnalysisRow[], given: Partial<AnalysisOptions> = {}): Analysis {
  const { options, used, model, reference, alone, school, bounded, states, findings } = fitRows(rows, given);
  const { fit } = model;
  const outcome: Outcome = OUTCOMES[options.outcome];
  const pairs = comparePairs({ model, school, reference, options, states, bounded }).filter((p) => alone === null || alone(p.a, p.b));
  const means = meansOf(model, school, states, options);
  const drawn = options.chances ? withAssumed(means, model, options) : [];
  const chances = options.chances
    ? chanceCoolest(
        outcome.better === 'lower' ? drawn : drawn.map(negated),
        school === 'pooled' && drawn.every((m) => m.df === drawn[0].df),
      )
    : means.map(() => null);
  // letters speak of all pairs, so a family of fewer has none
  const isWhole = options.family === 'all' && pairs.length === (fit.groups.length * (fit.groups.length - 1)) / 2;
  const letters = isWhole ? lettersOf(fit, pairs, options.confidence, outcome) : new Map<string, string>();
  const parts = varianceComponents(used);
  // without a specimen on two mounts nothing is known of what lies between mounts
  const remounted = fit.groups.some((g) => g.n > 1);
  const odd = oddMounts(model, findings);
  oneMountFinding(model, states, options.default_mount_sd > 0, findings);
  noScatterFinding(model, options.shared_errors, findings);
  if (options.block === null) daysFinding(used, findings);
  if (fit.groups.length === 1)
    findings.push({
      code: 'one_specimen',
      severity: 'note',
      message: 'There is only one specimen, so there is nothing to compare yet.',
    });
  if (options.unplanned_look !== null) findings.push(unplannedLook(options.unplanned_look));
  findings.push(...schoolLimits({ school, counts: fit.groups.map((g) => g.n), brown_forsythe_p: brownForsythe(fit)?.p ?? null }));

  return {
    ...{ reference, margin: options.margin, confidence: options.confidence, outcome: options.outcome },
    block: options.block,
    specimens: fit.groups.map((g, i) => summarise(g.specimen, g.n, used, means[i], letters, chances[i])),
    scatter: {
      school,
      mount_sd: remounted ? (parts?.mount_sd ?? null) : null,
      run_sd: parts?.run_sd ?? null,
      pooled_sd: model.sd,
      df: model.df,
      repeatability_limit: parts?.repeatability_limit ?? null,
      mount_limit: remounted ? (parts?.between_mount_limit ?? null) : null,
      brown_forsythe_p: brownForsythe(fit)?.p ?? null,
      block_p: model.blocks ? (blockEffect(model.blocks.fit)?.p ?? null) : null,
    },
    pairs,
    odd_mounts: odd,
    findings,
    sentences: pairs.map((p) => p.sentence),
  };
}

/** A comparison fitted: means, pairs and letters are read from it. */
interface Fitted {
  options: AnalysisOptions;
  used: AnalysisRow[];
  model: Model;
  reference: string;
  /** pairs of different rigs that cannot be compared; null where all can */
  alone: ReturnType<typeof isolatedByRig>;
  school: ScatterSchool;
  bounded: BoundedSpecimens;
  states: States;
  findings: Finding[];
}

function fitRows(rows: AnalysisRow[], given: Partial<AnalysisOptions>): Fitted {
  const options = { ...ANALYSIS_DEFAULTS, ...given };
  const findings: Finding[] = [];
  const used = takeUsable(rows, findings);
  if (used.length === 0) throw new Error('No valid run is left to compare: every row is marked invalid or excluded.');
  const model = fitModel(used, options.block, findings);
  const { fit } = model;
  const reference = options.reference ?? rows[0].specimen;
  requireReference(reference, fit, rows, options, findings);
  const alone = isolatedByRig(used, findings);
  const fewest = Math.min(...fit.groups.filter((g) => !options.fixed_states.includes(g.specimen)).map((g) => g.n));
  const school = chooseSchool(options.scatter, {
    ...{ blocked: model.blocks !== null, family: options.family, one_kind: options.one_kind },
    ...{ specimens: fit.groups.length, fewest },
  });
  const bounded = boundedSpecimens(rows, fit, options.outcome, findings);
  const states = statesOf(options.fixed_states, fit, used, findings);
  return { options, used, model, reference, alone, school, bounded, states, findings };
}

/**
 * The means of a comparison with their intervals, and nothing of its pairs: what a rail draws.
 * @returns empty where no row is left to compare
 */
export function analyseMeans(
  rows: AnalysisRow[],
  given: Partial<AnalysisOptions> = {},
): Pick<AnalysedSpecimen, 'specimen' | 'mean' | 'ci'>[] {
  if (!rows.some((r) => r.valid && !r.excluded)) return [];
  const { model, school, states, options } = fitRows(rows, given);
  return meansOf(model, school, states, options).map((m) => ({ specimen: m.specimen, mean: m.mean, ci: ownInterval(m) }));
}

/** Mounts that all read the same tell no interval. */
const ownInterval = (m: SpecimenMean) => (m.se === 0 ? null : m.ci);

const negated = (m: SpecimenMean): SpecimenMean => ({ ...m, mean: -m.mean });

const summarise = (
  specimen: string,
  mounts: number,
  used: AnalysisRow[],
  m: SpecimenMean,
  letters: Map<string, string>,
  chance: number | null,
): AnalysedSpecimen => ({
  specimen,
  mounts,
  runs: used.filter((r) => r.specimen === specimen).length,
  mean: m.mean,
  se: m.se,
  df: m.df,
  ci: ownInterval(m),
  sd_mounts: m.sd,
  group: letters.get(specimen) ?? '',
  chance_coolest: chance,
});

/**
 * Means over mounts with their errors under a school; of a state that cannot be remounted with the error of its runs, of all with what
 * their mounts share.
 */
const meansOf = (model: Model, school: ScatterSchool, states: States, options: AnalysisOptions): SpecimenMean[] =>
  ownMeans(model, school, states, options.confidence).map((m) => withSharedMean(m, options));

/**
 * The means as their chances are drawn: one of a single mount without a scatter of its own takes the scatter that its pairs are judged by.
 */
const withAssumed = (means: SpecimenMean[], { fit, sd, df }: Model, options: AnalysisOptions): SpecimenMean[] =>
  means.map((m, i) => {
    if (m.se !== null || m.n > 1) return m;
    const lent = sd !== null && df >= ENOUGH_DF ? { sd, df } : lentScatter([fit.groups[i]], options);
    return { ...m, se: lent.sd, df: lent.df };
  });

function ownMeans({ fit, blocks }: Model, school: ScatterSchool, states: States, confidence: number): SpecimenMean[] {
  const means =
    blocks && school === 'pooled'
      ? blockMeans(blocks.fit, confidence)
      : specimenMeans(fit, fit.sd === null ? 'separate' : school, confidence);
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
