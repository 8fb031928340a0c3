import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { excludeMount } from '#features/mount/server/excluded';

/** Leaves a mount out of the comparisons with a reason, or takes it in again. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await excludeMount(parseId(params.id, 'mount'), await readJson(request))));
