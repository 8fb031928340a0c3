import { endpoint } from '#app/http';
import { recordOpening, removeOpening } from '#features/mount/server/openings';

/** Writes down what was found when a mount was opened. */
export const POST = endpoint((ask) => [ask.id('mount'), ask.json()], recordOpening, 201);

/** Takes a record out, or puts it back. */
export const PATCH = endpoint((ask) => [ask.id('mount'), ask.json()], removeOpening);
