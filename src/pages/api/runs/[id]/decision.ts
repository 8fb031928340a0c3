import { endpoint } from '#app/http';
import { decideRun } from '#features/run/server/decide';

/** Settles what a run waits for. */
export const POST = endpoint((ask) => [ask.id('run'), ask.json()], decideRun);
