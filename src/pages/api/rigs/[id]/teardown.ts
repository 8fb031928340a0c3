import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { saveTeardown } from '#features/mount/server/teardown';

/** Stores how a rig is taken apart. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await saveTeardown(parseId(params.id, 'rig'), await readJson(request))));
