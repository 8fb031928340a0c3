import { endpoint } from '#app/http';
import { moveRun } from '#features/run/server/moveRun';

/** Moves a run to another mount. */
export const PUT = endpoint((ask) => [ask.id('run'), ask.json()], moveRun);
