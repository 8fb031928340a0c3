import { compareStudy } from '#features/results/model/choice';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import { answerResults } from '#features/results/model/resultsAnswer';

let study: { facts: StudyFacts; confidence: number } | null = null;

export const api = {
  /** The study that is asked about from here on: it is sent once, not with every choice. */
  take(facts: StudyFacts, confidence: number) {
    study = { facts, confidence };
  },
  answer(choice: ResultsChoice) {
    if (!study) throw new Error('no study was given');
    return answerResults(study.facts, choice, study.confidence, false);
  },
  /** Chances of being best, in the order of the analysis' specimens: they take longer than all the rest. */
  chances(choice: ResultsChoice) {
    return study && (compareStudy(study.facts, choice, study.confidence, true)?.specimens.map((s) => s.chance_coolest) ?? null);
  },
};
export type ResultsApi = typeof api;
