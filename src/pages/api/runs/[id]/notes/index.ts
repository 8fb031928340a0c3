import { endpoint } from '#app/http';
import { pinNote } from '#features/run/server/judge';

/** Pins a note to a time of a run. */
export const POST = endpoint((ask) => [ask.id('run'), ask.json()], pinNote, 201);
