import { endpoint } from '#app/http';
import { unpinNote } from '#features/run/server/judge';

/** Takes a note away. */
export const DELETE = endpoint((ask) => [ask.id('run'), ask.id('note', 'note')], unpinNote);
