import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#server/http';
import { judgementView, judgeRun } from '#server/run/judge';

/** How a run was judged so far. */
export const GET: APIRoute = ({ params }) => answer(async () => json(await judgementView(parseId(params.id, 'run'))));

/** Accepts, excludes or reopens a run, or sets its window. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await judgeRun(parseId(params.id, 'run'), await readJson(request))));
