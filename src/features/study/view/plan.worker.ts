import { expose } from 'comlink';
import { answerPlan } from '#features/study/model/planAnswer';

const api = { answerPlan };
export type PlanApi = typeof api;
expose(api);
