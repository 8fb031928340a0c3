import { expose } from 'comlink';
import { answerPlan } from '#domain/plan/answer';

const api = { answerPlan };
export type PlanApi = typeof api;
expose(api);
