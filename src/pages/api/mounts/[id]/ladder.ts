import { endpoint } from '#app/http';
import { climbView, saveSteps } from '#features/run/server/climb';

/** How a mount is climbing its ladders. */
export const GET = endpoint((ask) => [ask.id('mount')], climbView);

/** Writes steps of a climb. */
export const PUT = endpoint((ask) => [ask.id('mount'), ask.json()], saveSteps);
