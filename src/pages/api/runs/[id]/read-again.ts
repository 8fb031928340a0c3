import { endpoint } from '#app/http';
import { readAgain } from '#features/run/server/readAgain';

/** Reads the logs of a run again for the parts that its plan and rig name now. */
export const POST = endpoint((ask) => [ask.id('run')], readAgain);
