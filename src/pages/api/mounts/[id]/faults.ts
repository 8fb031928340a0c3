import { endpoint } from '#app/http';
import { reportFault, settleFault } from '#features/mount/server/faults';

/** Reports a fault of a mount. */
export const POST = endpoint((ask) => [ask.id('mount'), ask.json()], reportFault, 201);

/** Says what was done about a fault. */
export const PUT = endpoint((ask) => [ask.id('mount'), ask.json()], settleFault);
