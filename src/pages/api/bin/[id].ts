import { endpoint } from '#app/http';
import { eraseThing, restoreThing } from '#features/run/server/bin';

/** Brings a thing back from the bin. */
export const POST = endpoint((ask) => [ask.id('entry of the bin')], restoreThing);

/** Deletes a thing for good. */
export const DELETE = endpoint((ask) => [ask.id('entry of the bin')], eraseThing);
