import { endpoint } from '#app/http';
import { saveRigParts } from '#features/shelf/server/rigParts';

/** Stores the parts of a rig. */
export const PUT = endpoint((ask) => [ask.id('rig'), ask.json()], saveRigParts);
