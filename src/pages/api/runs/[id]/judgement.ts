import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { judgementView, judgeRun } from '#features/run/server/judge';

/** How a run was judged so far. */
export const GET: APIRoute = ({ params }) => answer(async () => json(await judgementView(parseId(params.id, 'run'))));

/** Accepts, excludes or reopens a run, or sets its window. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await judgeRun(parseId(params.id, 'run'), await readJson(request))));
