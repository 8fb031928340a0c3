import { arrange } from '#features/results/model/resultsAnswer';
import type { StudyLevel, StudyResults } from './studyResults';

export type ResultsView = ReturnType<typeof arrange>;

/** A study's own comparison in words, for the tables of the bench and the studies; null while there is nothing to compare. */
export function arrangeResults({ facts, choice, analysis, lead }: StudyResults): ResultsView | null {
  if (lead) return arrange(facts, lead.choice, lead.analysis);
  return analysis ? arrange(facts, choice, analysis) : null;
}

/** What looking before the end costs in confidence; empty where no look was planned. */
export function lookSentence({ looks, blocks_done, blocks_planned, confidence, spent }: StudyLevel): string {
  if (looks.length === 0) return '';
  const percent = (v: number) => `${Number((100 * v).toFixed(2))} %`;
  const when = blocks_done >= blocks_planned ? 'All planned blocks are in' : `Interim look: ${blocks_done} of ${blocks_planned} blocks are in`;
  return `${when}. Verdicts are judged with ${percent(confidence)} confidence, as looks were planned after block ${looks.join(' and ')}; ${percent(spent)} of the error is spent.`;
}
