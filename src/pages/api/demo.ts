import { endpoint } from '#app/http';
import { cancelDemo, demoProgress, startDemo } from '#demo/demoJob';

/** How far the demo is loaded. */
export const GET = endpoint(() => [], demoProgress);

/** Begins to load the demo. */
export const POST = endpoint(() => [], startDemo, 202);

/** Stops loading and takes away what was stored. */
export const DELETE = endpoint(() => [], cancelDemo);
