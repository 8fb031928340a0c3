import { analyse } from '#core/compare/analyse';
import type { AnalysisRow } from '#core/compare/rows';
import type { Analysis, AnalysisOptions, Verdict } from '#core/compare/types';
import { planLooks } from './spending';

export interface LookState {
  /** blocks, one mount of each specimen, that are complete */
  blocks_done: number;
  blocks_planned: number;
  /** block of the look shown; null where all blocks so far are shown without a planned look */
  look: number | null;
  /** next planned look, as a number of blocks; null after the last */
  next_look: number | null;
  /** confidence the verdicts shown were reached with */
  confidence: number;
  /** share of the error spent so far, two-sided, of 1 − the study's confidence */
  spent: number;
  settled: LookPair[];
  open: LookPair[];
}

interface LookPair {
  a: string;
  b: string;
  verdict: Verdict;
  /** further mounts of each expected to settle it; null where no reachable number would */
  more_mounts: number | null;
  sentence: string;
}

/**
 * Confidence for the verdicts of a study whose interim looks were planned, when some of its blocks are in. Without planned looks it is the
 * study's own.
 * @param looks planned interim looks as numbers of blocks
 * @returns confidence of this look, and the error spent up to it
 */
export function lookLevel(looks: number[], planned: number, done: number, confidence: number): { confidence: number; spent: number } {
  const alpha = 1 - confidence;
  if (looks.length === 0 || planned < 1) return { confidence, spent: alpha };
  const passed = looks.filter((b) => b < Math.min(done, planned)).sort((p, q) => p - q);
  const current = Math.min(done, planned);
  if (current < 1) return { confidence, spent: 0 };
  const fractions = [...passed, current].map((b) => b / planned);
  const last = planLooks(fractions, alpha).at(-1);
  return last ? { confidence: 1 - last.nominal_alpha, spent: last.spent } : { confidence, spent: 0 };
}

/** Complete blocks: the fewest valid mounts of any planned specimen. */
export function blocksDone(rows: AnalysisRow[], specimens: string[]): number {
  const mounts = new Map<string, Set<string>>(specimens.map((s) => [s, new Set()]));
  for (const r of rows) if (r.valid !== false && !r.excluded) mounts.get(r.specimen)?.add(r.mount);
  return Math.min(...[...mounts.values()].map((m) => m.size));
}

/**
 * What a study under way says at its last complete block: settled pairs, open ones, and the mounts these still need.
 * @returns null before the second complete block: one mount each has no scatter of its own
 */
export function lookAt(
  rows: AnalysisRow[],
  plan: { specimens: string[]; mounts: number; looks: number[] },
  options: Partial<AnalysisOptions> & { confidence: number },
): LookState | null {
  const done = blocksDone(rows, plan.specimens);
  if (plan.specimens.length < 2 || done < 2) return null;
  const passed = plan.looks.filter((b) => b <= done);
  const look = plan.looks.length === 0 ? null : done >= plan.mounts ? plan.mounts : (passed.at(-1) ?? null);
  const shown = look ?? done;
  const level = lookLevel(plan.looks, plan.mounts, shown, options.confidence);
  const analysis = analyse(firstMounts(rows, shown), { ...options, confidence: level.confidence, chances: false });
  const pairs = pairsOf(analysis);
  return {
    blocks_done: done,
    blocks_planned: plan.mounts,
    look,
    next_look: plan.looks.find((b) => b > done) ?? (done < plan.mounts ? plan.mounts : null),
    ...level,
    settled: pairs.filter((p) => p.verdict !== 'unresolved'),
    open: pairs.filter((p) => p.verdict === 'unresolved'),
  };
}

/** The first valid mounts of each specimen. */
function firstMounts(rows: AnalysisRow[], count: number): AnalysisRow[] {
  const seen = new Map<string, string[]>();
  for (const r of rows) {
    if (r.valid === false || r.excluded) continue;
    const mounts = seen.get(r.specimen) ?? [];
    seen.set(r.specimen, mounts);
    if (!mounts.includes(r.mount)) mounts.push(r.mount);
  }
  return rows.filter((r) => (seen.get(r.specimen) ?? []).indexOf(r.mount) < count && (seen.get(r.specimen) ?? []).includes(r.mount));
}

const pairsOf = (analysis: Analysis): LookPair[] =>
  analysis.pairs.map(({ a, b, verdict, more_mounts, sentence }) => ({ a, b, verdict, more_mounts, sentence }));
