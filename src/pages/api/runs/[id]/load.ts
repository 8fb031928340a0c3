import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { changeLoad } from '#features/run/server/load';

/** Says under which of its study's loads a run was made. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await changeLoad(parseId(params.id, 'run'), await readJson(request))));
