import type { AnalysedPair } from '#core/compare/types';
import type { ArrangedResults } from './resultsAnswer';

/** The pairs with the reference, or all where there is none, best first. */
export const mainPairs = ({ analysis, main }: Pick<ArrangedResults, 'analysis' | 'main'>): AnalysedPair[] =>
  main.flatMap((i) => analysis?.pairs[i] ?? []);

/** What the intervals of all pairs hold, as a sentence. */
export function intervalsWords(pairs: number, confidence: number): string {
  const percent = `${Number((100 * confidence).toFixed(2))} %`;
  return pairs === 1 ? `The pair has a ${percent} interval.` : `The intervals hold together: ${percent} for all ${pairs} pairs at once.`;
}

/** All other pairs. */
export function otherPairs({ analysis, main }: Pick<ArrangedResults, 'analysis' | 'main'>): AnalysedPair[] {
  const told = new Set(main);
  return (analysis?.pairs ?? []).filter((_, i) => !told.has(i));
}
