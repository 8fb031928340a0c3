import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { beginAttempt, endAttempt } from '#features/mount/server/mountSheet';

/** Begins the next try of a mount. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await beginAttempt(parseId(params.id, 'mount'), await readJson(request)), 201));

/** Ends the try under way. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await endAttempt(parseId(params.id, 'mount'), await readJson(request))));
