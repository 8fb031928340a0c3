import { expose } from 'comlink';
import type { Sweep } from '#core/coolers/sweep';
import { answerCoolers } from '#domain/coolers/answer';
import type { CoolerQuestion } from '#domain/coolers/figures';
import type { StudyFacts } from '#domain/results/facts';

let study: { facts: StudyFacts; sweeps: Sweep[] } | null = null;

const api = {
  /** The study that is asked about from here on. */
  take(facts: StudyFacts, sweeps: Sweep[]) {
    study = { facts, sweeps };
  },
  answer(question: CoolerQuestion) {
    if (!study) throw new Error('no study was given');
    return answerCoolers(study.facts, study.sweeps, question);
  },
};
export type CoolersApi = typeof api;
expose(api);
