import type { APIRoute } from 'astro';
import { answer, json } from '#app/http';
import { cancelDemo, demoProgress, startDemo } from '#demo/demoJob';

/** How far the demo is loaded. */
export const GET: APIRoute = () => answer(async () => json(demoProgress()));

/** Begins to load the demo. */
export const POST: APIRoute = () => answer(async () => json(await startDemo(), 202));

/** Stops loading and takes away what was stored. */
export const DELETE: APIRoute = () => answer(async () => json(cancelDemo()));
