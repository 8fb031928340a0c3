import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#server/http';
import { saveTeardown } from '#server/mount/teardown';

/** Stores how a rig is taken apart. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await saveTeardown(parseId(params.id, 'rig'), await readJson(request))));
