import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#server/http';
import { decideRun } from '#server/run/decide';

/** Settles what a run waits for. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await decideRun(parseId(params.id, 'run'), await readJson(request))));
