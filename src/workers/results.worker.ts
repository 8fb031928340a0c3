import { expose } from 'comlink';
import { answerResults } from '#domain/results/answer';

const api = { answerResults };
export type ResultsApi = typeof api;
expose(api);
