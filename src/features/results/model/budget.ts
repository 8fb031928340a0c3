import type { Analysis } from '#core/compare/types';
import type { UncertaintyBudget } from '#core/stats/uncertainty/combine';
import { absoluteBudget, differenceBudget } from '#core/stats/uncertainty/riseBudget';
import type { StudyFacts } from './facts';

export interface StudyBudget {
  /** of each specimen's rise as an absolute value */
  absolute: { specimen: string; mean: number; budget: UncertaintyBudget }[];
  /** of the difference to the reference; `cancels` where both were measured with the same instruments alike, so that offsets cancel */
  difference: { specimen: string; difference: number; budget: UncertaintyBudget; cancels: boolean }[];
  rigs: number;
}

/** What each rise may be off by in all, and each difference. */
export function studyBudget(facts: StudyFacts, analysis: Analysis): StudyBudget | null {
  const absolute = analysis.specimens.flatMap((s) =>
    s.se === null || s.df === null
      ? []
      : [{ specimen: s.specimen, mean: s.mean, budget: absoluteBudget({ se: s.se, df: s.df }, facts.instruments, facts.confidence) }],
  );
  const difference = analysis.pairs.flatMap((p) => {
    if (p.df === null || (p.a !== facts.reference && p.b !== facts.reference)) return [];
    const isFirst = p.a !== facts.reference;
    const cancels = sameInstruments(facts, analysis, [p.a, p.b]);
    return [
      {
        specimen: isFirst ? p.a : p.b,
        difference: isFirst ? p.difference : -p.difference,
        budget: differenceBudget({ se: p.se, df: p.df }, facts.instruments, cancels, facts.confidence),
        cancels,
      },
    ];
  });
  return absolute.length === 0 ? null : { absolute, difference, rigs: new Set(facts.runs.map((r) => r.rig)).size };
}

/**
 * Whether the rigs are in the means of both alike: both were on the same ones, and either the comparison takes the rigs out or their mounts
 * are shared alike.
 */
function sameInstruments(facts: StudyFacts, { block }: Analysis, pair: [string, string]): boolean {
  const [first, second] = pair.map((name) => mountsByRig(facts, name));
  if (first.size !== second.size || [...first.keys()].some((rig) => !second.has(rig))) return false;
  if (first.size < 2 || block === 'rig' || block === 'rig-day') return true;
  const total = (m: Map<string, number>) => [...m.values()].reduce((a, b) => a + b, 0);
  return [...first].every(([rig, n]) => n * total(second) === (second.get(rig) ?? 0) * total(first));
}

/** How many mounts of a specimen with a value were on each rig. */
function mountsByRig({ runs }: StudyFacts, specimen: string): Map<string, number> {
  const mounts = new Map<number, string>();
  for (const r of runs)
    if (r.specimen === specimen && r.valid && r.mount_reason === null && r.run_reason === null) mounts.set(r.mount_id, r.rig);
  const counts = new Map<string, number>();
  for (const rig of mounts.values()) counts.set(rig, (counts.get(rig) ?? 0) + 1);
  return counts;
}
