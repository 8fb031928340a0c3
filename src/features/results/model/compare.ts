import { analyse } from '#core/compare/analyse';
import type { AnalysedPair, Analysis } from '#core/compare/types';
import { optionsFor, rowsFor } from './choice';
import type { ResultsChoice, StudyFacts } from './facts';
import { mixedRuns } from './mixedRuns';

/** The comparison of a study under a choice; null while nothing of it is valid. */
export function compareStudy(facts: StudyFacts, choice: ResultsChoice, confidence = facts.confidence, chances = false): Analysis | null {
  const rows = rowsFor(facts, choice);
  if (!rows.some((r) => r.valid && !r.excluded)) return null;
  const analysis = analyse(rows, { ...optionsFor(facts, choice, confidence), chances });
  const mixed = mixedRuns(facts, choice.outcome);
  if (mixed.length === 0) return analysis;
  // runs that were made unlike are no repeats: what they differ by is not how well one repeats
  const untold = { mount_sd: null, run_sd: null, repeatability_limit: null, mount_limit: null };
  return { ...analysis, scatter: { ...analysis.scatter, ...untold }, findings: [...mixed, ...analysis.findings] };
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
  const turned = { cooler: 'warmer', warmer: 'cooler', cooler_within_margin: 'warmer_within_margin', warmer_within_margin: 'cooler_within_margin' } as const;
  const verdict = p.a === q.a ? q.verdict : q.verdict in turned ? turned[q.verdict as keyof typeof turned] : q.verdict;
  return p.verdict === verdict && p.firm === q.firm;
}
