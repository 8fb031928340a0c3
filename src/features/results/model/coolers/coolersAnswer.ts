import { analyse } from '#core/compare/analyse';
import type { OutcomeKey } from '#core/compare/outcomes';
import { OUTCOMES } from '#core/compare/outcomes';
import type { AnalysisRow } from '#core/compare/rows';
import type { Analysis, SharedError } from '#core/compare/types';
import { atRise, type Sweep } from '#core/thermal/coolers/sweep';
import type { AxisRange } from '#core/units/axisRange';
import type { Rung } from '#features/results/model/resultsAnswer';
import { scatterChoice } from '#features/study/model/scatterChoice';
import { marginFor } from '../choice';
import type { StudyFacts } from '../facts';
import { bestFirst, headlineOf, rungRange, splitSentence } from '../headline';
import { levelScale } from '../levelScale';
import { type CoolerFigure, type CoolerQuestion, figureOf, stateOf } from './figures';

/** A place on the ladder, with the mounts it is told from. */
export interface CoolerRung extends Pick<Rung, 'name' | 'position' | 'mean' | 'ci' | 'group'> {
  mounts: { mount: number; value: number | null; at_or_above: number | null; at_or_below?: number | null }[];
}

export interface CoolerAnswer {
  question: CoolerQuestion;
  outcome: OutcomeKey;
  figures: CoolerFigure[];
  analysis: Analysis | null;
  /** what the mounts of a cooler share through its curves, by specimen */
  shared_errors: Record<string, SharedError>;
  headline: { claim: string; basis: string };
  rungs: CoolerRung[];
  range: AxisRange;
  margin: number;
  /** positions of the pairs with the reference, or of all, best first */
  main: number[];
}

/** A value of each mount and the error they share. */
interface Placed {
  mounts: (number | null)[];
  shared: SharedError;
}

/**
 * Compares the coolers of a study held alike at a noise, a speed, a rise, or each at full speed: each mount's value there is judged as any
 * other.
 */
export function answerCoolers(facts: StudyFacts, sweeps: Sweep[], question: CoolerQuestion): CoolerAnswer {
  const outcome: OutcomeKey = question.by === 'rise' ? 'noise' : 'rise';
  const figures = sweeps.map((s) => figureOf(s, question, facts));
  const rows: AnalysisRow[] = [];
  const shared_errors: Record<string, SharedError> = {};
  for (const s of sweeps) {
    const placed = placeOf(s, question);
    if (!placed) continue;
    shared_errors[s.specimen] = placed.shared;
    placed.mounts.forEach((value, i) => {
      if (value !== null) rows.push({ specimen: s.specimen, mount: s.mounts[i], value });
    });
  }
  const margin = marginFor(facts, outcome);
  const known = new Set(rows.map((r) => r.specimen));
  const analysis =
    rows.length === 0
      ? null
      : analyse(rows, {
          ...{ outcome, margin, shared_errors, chances: false, confidence: facts.confidence, family: facts.family },
          ...{ scatter: scatterChoice(facts.scatter), one_kind: true, borrowed: outcome === 'rise' ? facts.borrowed : {} },
          default_mount_sd: outcome === 'rise' ? facts.default_mount_sd : margin / 2,
          ...(facts.reference !== null && known.has(facts.reference) ? { reference: facts.reference } : {}),
        });
  const rungs = facts.specimens.flatMap((s): CoolerRung[] => {
    const mean = analysis?.specimens.find((a) => a.specimen === s.name);
    if (!mean) return [];
    const mounts = rows.filter((r) => r.specimen === s.name).map((r) => ({ mount: Number(r.mount), value: r.value, at_or_above: null }));
    return [{ name: s.name, position: s.position, mean: mean.mean, ci: mean.ci, group: mean.group, mounts }];
  });
  const all = analysis?.pairs ?? [];
  const withReference = all.filter((p) => p.a === facts.reference || p.b === facts.reference);
  const main = bestFirst(withReference.length > 0 ? withReference : all, facts.reference, rungs, OUTCOMES[outcome].better);
  return {
    ...{ question, outcome, figures, analysis, shared_errors, rungs, margin },
    headline: analysis ? splitSentence(headlineOf(analysis, main, levelScale('difference', outcome))) : { claim: '', basis: '' },
    range: rungRange(rungs, facts.reference, margin),
    main: main.map((p) => all.indexOf(p)),
  };
}

function placeOf(sweep: Sweep, { by, at }: CoolerQuestion): Placed | null {
  if (by === 'rise') {
    const needed = atRise(sweep, at);
    return needed && needed.level !== null ? { mounts: needed.mounts, shared: { se: needed.shared_se, df: needed.shared_df } } : null;
  }
  const state = stateOf(sweep, { by, at });
  return state && { mounts: state.mounts, shared: { se: state.shared_se, df: state.shared_df } };
}
