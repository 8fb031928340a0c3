import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { decideRun } from '#features/run/server/decide';

/** Settles what a run waits for. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await decideRun(parseId(params.id, 'run'), await readJson(request))));
