import { expose } from 'comlink';
import { answerResults } from '#domain/results/answer';
import { compareStudy } from '#domain/results/compare';
import type { ResultsChoice, StudyFacts } from '#domain/results/facts';

let study: { facts: StudyFacts; confidence: number } | null = null;

const api = {
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
expose(api);
