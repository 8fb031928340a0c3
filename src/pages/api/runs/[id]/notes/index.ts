import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { pinNote } from '#features/run/server/judge';

/** Pins a note to a time of a run. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await pinNote(parseId(params.id, 'run'), await readJson(request)), 201));
