import { endpoint } from '#app/http';
import { editTyped } from '#features/run/server/typedRun';

/** Corrects what was typed for a run. */
export const PUT = endpoint((ask) => [ask.id('run'), ask.json()], editTyped);
