import type { Analysis } from '#core/compare/types';
import type { UncertaintyBudget } from '#core/uncertainty/combine';
import { absoluteBudget, differenceBudget } from '#core/uncertainty/riseBudget';
import type { StudyFacts } from './facts';

export interface StudyBudget {
  /** of each specimen's rise as an absolute value */
  absolute: { specimen: string; mean: number; budget: UncertaintyBudget }[];
  /** of the difference to the reference, offsets being shared on one rig */
  difference: { specimen: string; difference: number; budget: UncertaintyBudget }[];
  shared: boolean;
}

/** What each rise may be off by in all, and each difference; offsets of the instruments cancel in differences on one rig. */
export function studyBudget(facts: StudyFacts, analysis: Analysis): StudyBudget | null {
  const shared = new Set(facts.runs.map((r) => r.rig)).size < 2;
  const absolute = analysis.specimens.flatMap((s) =>
    s.se === null || s.df === null
      ? []
      : [{ specimen: s.specimen, mean: s.mean, budget: absoluteBudget({ se: s.se, df: s.df }, facts.instruments, facts.confidence) }],
  );
  const difference = analysis.pairs.flatMap((p) => {
    if (p.df === null || (p.a !== facts.reference && p.b !== facts.reference)) return [];
    const isFirst = p.a !== facts.reference;
    return [
      {
        specimen: isFirst ? p.a : p.b,
        difference: isFirst ? p.difference : -p.difference,
        budget: differenceBudget({ se: p.se, df: p.df }, facts.instruments, shared, facts.confidence),
      },
    ];
  });
  return absolute.length === 0 ? null : { absolute, difference, shared };
}
