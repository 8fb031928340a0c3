import { endpoint } from '#app/http';
import { excludeMount } from '#features/mount/server/excluded';

/** Leaves a mount out of the comparisons with a reason, or takes it in again. */
export const PUT = endpoint((ask) => [ask.id('mount'), ask.json()], excludeMount);
