import { endpoint } from '#app/http';
import { remount } from '#features/mount/server/remount';

/** Opens the next mount of the same specimen, after the cooler was lifted. */
export const POST = endpoint((ask) => [ask.id('mount'), ask.json()], remount, 201);
