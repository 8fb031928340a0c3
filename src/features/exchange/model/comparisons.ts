import { analyse } from '#core/compare/analyse';
import { OUTCOMES } from '#core/compare/outcomes';
import type { Analysis } from '#core/compare/types';
import { leadingChoice, optionsFor, rowsFor, studyChoice } from '#features/results/model/choice';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import type { PackageRow } from './packageTable';

/** Stands for the load of a study that names none. */
export const ANY_LOAD = 'all';

/** A comparison that a package holds. */
interface PackagedComparison {
  choice: ResultsChoice;
  analysis: Analysis;
}

/**
 * The comparisons that a package holds: by what the study is judged, by what is told first where that is another, and by the resistance, each
 * under every load of the study. Chances of being best are drawn at random and not among them.
 */
export function packagedComparisons(facts: StudyFacts, confidence: number): PackagedComparison[] {
  const own = studyChoice(facts);
  const asked = [own, leadingChoice(facts), { ...own, outcome: 'r_k_per_w' as const, sensor: null }];
  const choices = asked.filter((c, i) => asked.findIndex((o) => o.outcome === c.outcome) === i);
  const loads = own.load === null ? [null] : facts.loads;
  return choices.flatMap((choice) =>
    loads.flatMap((load) => {
      const under = { ...choice, load };
      const rows = rowsFor(facts, under);
      if (!rows.some((r) => r.valid && !r.excluded)) return [];
      return [{ choice: under, analysis: analyse(rows, { ...optionsFor(facts, under, confidence), chances: false }) }];
    }),
  );
}

const UCUM: Record<string, string> = { rpm: '{rpm}', 'dB(A)': 'dB', points: '{points}', 'points/W': '{points}/W' };
const about = ({ outcome, load }: ResultsChoice) => ({
  ...{ outcome, load: load ?? ANY_LOAD, unit: UCUM[OUTCOMES[outcome].unit] ?? OUTCOMES[outcome].unit },
});
const ends = (ci: [number, number] | null) => ({ ci_low: ci?.[0] ?? null, ci_high: ci?.[1] ?? null });

/** Rows of the tables `means` and `pairs`. */
export const comparisonRows = (comparisons: PackagedComparison[]): { means: PackageRow[]; pairs: PackageRow[] } => ({
  means: comparisons.flatMap(({ choice, analysis }) =>
    analysis.specimens.map(({ specimen, mounts, runs, mean, se, df, ci, sd_mounts, group }) => ({
      ...{ ...about(choice), specimen, mounts, runs, mean, se, df: finite(df), ...ends(ci), sd_mounts, group },
    })),
  ),
  pairs: comparisons.flatMap(({ choice, analysis }) =>
    analysis.pairs.map(({ a, b, difference, se, df, ci, p, p_adjusted, verdict, firm, sentence }) => ({
      ...{ ...about(choice), a, b, difference, se: finite(se), df: finite(df), ...ends(ci), p, p_adjusted, verdict, firm, sentence },
    })),
  ),
});

/** Degrees of freedom without end, of an assumed scatter, are not a number of a table. */
const finite = (value: number | null): number | null => (value === null || Number.isFinite(value) ? value : null);
