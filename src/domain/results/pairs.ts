import type { AnalysedPair } from '#core/compare/analyse';
import type { ArrangedResults } from './answer';

/** The pairs with the reference, or all where there is none, best first. */
export function mainPairs({ analysis, main }: Pick<ArrangedResults, 'analysis' | 'main'>): AnalysedPair[] {
  return main.flatMap((i) => analysis?.pairs[i] ?? []);
}

/** All other pairs. */
export function otherPairs({ analysis, main }: Pick<ArrangedResults, 'analysis' | 'main'>): AnalysedPair[] {
  const told = new Set(main);
  return (analysis?.pairs ?? []).filter((_, i) => !told.has(i));
}
