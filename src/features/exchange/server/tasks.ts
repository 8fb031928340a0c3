import { inThreads } from '#app/jobs';
import { packagedComparisons } from '#features/exchange/model/comparisons';
import type { PackageRow } from '#features/exchange/model/packageTable';
import type { StudyFacts } from '#features/results/model/facts';
import { samplesPiece } from './samplesPiece';
import { workbook } from './workbook';

export const exchangeTasks = {
  packagedComparisons: ({ facts, confidence }: { facts: StudyFacts; confidence: number }) => packagedComparisons(facts, confidence),
  samplesPiece,
  workbook: ({ tables }: { tables: Record<string, PackageRow[]> }) => workbook(tables),
};
export const exchangeThreads = inThreads(exchangeTasks);
