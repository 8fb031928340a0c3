import { endpoint } from '#app/http';
import { changeLoad } from '#features/run/server/load';

/** Says under which of its study's loads a run was made. */
export const PUT = endpoint((ask) => [ask.id('run'), ask.json()], changeLoad);
