import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { beginMount } from '#features/mount/server/mountSheet';

/** Begins a mount. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await beginMount(parseId(params.id, 'study'), await readJson(request)), 201));
