import type { Sweep } from '#core/thermal/coolers/sweep';
import { answerCoolers } from '#features/results/model/coolers/coolersAnswer';
import type { CoolerQuestion } from '#features/results/model/coolers/figures';
import type { StudyFacts } from '#features/results/model/facts';

let study: { facts: StudyFacts; sweeps: Sweep[] } | null = null;

export const api = {
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
