import { endpoint } from '#app/http';
import { beginMount } from '#features/mount/server/mountSheet';

/** Begins a mount. */
export const POST = endpoint((ask) => [ask.id('study'), ask.json()], beginMount, 201);
