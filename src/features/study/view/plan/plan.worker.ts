import { answerPlan } from '#features/study/model/planAnswer';

export const api = { answerPlan };
export type PlanApi = typeof api;
