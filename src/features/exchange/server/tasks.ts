import { inThreads } from '#app/jobs';
import { packagedComparisons } from '#features/exchange/model/comparisons';
import type { StudyFacts } from '#features/results/model/facts';

export const exchangeTasks = {
  packagedComparisons: ({ facts, confidence }: { facts: StudyFacts; confidence: number }) => packagedComparisons(facts, confidence),
};
export const exchangeThreads = inThreads(exchangeTasks);
