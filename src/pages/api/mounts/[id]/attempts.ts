import { endpoint } from '#app/http';
import { beginAttempt, endAttempt } from '#features/mount/server/mountSheet';

/** Begins the next try of a mount. */
export const POST = endpoint((ask) => [ask.id('mount'), ask.json()], beginAttempt, 201);

/** Ends the try under way. */
export const PUT = endpoint((ask) => [ask.id('mount'), ask.json()], endAttempt);
