import { analyse } from '#core/compare/analyse';
import type { OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair, Analysis, Finding } from '#core/compare/types';
import { hasSeveralSpeeds } from '../coolers/sweeps';
import { optionsFor, rowsFor } from './choice';
import type { ResultsChoice, StudyFacts } from './facts';

/** Outcomes that change with the fan's speed. */
const OVER_SPEEDS = new Set<OutcomeKey>(['rise', 'r_k_per_w', 'rise_at_power', 'noise', 'fan_speed', 'spread']);

const SEVERAL_SPEEDS: Finding = {
  code: 'several_speeds',
  severity: 'warn',
  message:
    'Mounts were run at several fan speeds, and a mount’s value here is the mean over them: it compares coolers at equal speeds on average. Where they are held at equal noise, speed or temperature is told under Coolers.',
};

/** The comparison of a study under a choice; null while nothing of it is valid. */
export function compareStudy(facts: StudyFacts, choice: ResultsChoice, confidence = facts.confidence, chances = false): Analysis | null {
  const rows = rowsFor(facts, choice);
  if (!rows.some((r) => r.valid && !r.excluded)) return null;
  const analysis = analyse(rows, { ...optionsFor(facts, choice, confidence), chances });
  if (OVER_SPEEDS.has(choice.outcome) && hasSeveralSpeeds(facts.runs)) analysis.findings.unshift(SEVERAL_SPEEDS);
  return analysis;
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
