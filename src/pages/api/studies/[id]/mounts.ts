import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#server/http';
import { beginMount } from '#server/mount/mountSheet';

/** Begins a mount. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await beginMount(parseId(params.id, 'study'), await readJson(request)), 201));
