import { endpoint } from '#app/http';
import { saveTeardown } from '#features/mount/server/teardown';

/** Stores how a rig is taken apart. */
export const PUT = endpoint((ask) => [ask.id('rig'), ask.json()], saveTeardown);
