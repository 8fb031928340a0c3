import { endpoint } from '#app/http';
import { mountSheet, saveStep } from '#features/mount/server/mountSheet';

export const GET = endpoint((ask) => [ask.id('mount')], mountSheet);

/** Writes what was done at one step. */
export const PATCH = endpoint((ask) => [ask.id('mount'), ask.json()], saveStep);
