import { endpoint } from '#app/http';
import { moveMount } from '#features/run/server/moveMount';

/** Moves a mount to another specimen or rig. */
export const PUT = endpoint((ask) => [ask.id('mount'), ask.json()], moveMount);
