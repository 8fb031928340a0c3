import { tQuantile } from '#core/stats/distributions/t';
import { blockMeans } from './blockModel';
import { ENOUGH_DF, lentScatter } from './borrowedScatter';
import type { States } from './fixedStates';
import type { Model } from './model';
import { type SpecimenMean, specimenMeans } from './oneWay';
import { addErrors } from './sharedError';
import type { AnalysisOptions, ScatterSchool } from './types';

/** Means over mounts with their errors under a school; of a state that cannot be remounted with the error of its runs, of all with what their mounts share. */
export function meansOf(model: Model, school: ScatterSchool, states: States, options: AnalysisOptions): SpecimenMean[] {
  return ownMeans(model, school, states, options.confidence).map((m) => withSharedMean(m, options));
}

/** The means as their chances are drawn: one of a single mount without a scatter of its own takes the scatter that its pairs are judged by. */
export function withAssumed(means: SpecimenMean[], { fit, sd, df }: Model, options: AnalysisOptions): SpecimenMean[] {
  return means.map((m, i) => {
    if (m.se !== null || m.n > 1) return m;
    const lent = sd !== null && df >= ENOUGH_DF ? { sd, df } : lentScatter([fit.groups[i]], options);
    return { ...m, se: lent.sd, df: lent.df };
  });
}

function ownMeans({ fit, blocks }: Model, school: ScatterSchool, states: States, confidence: number): SpecimenMean[] {
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
