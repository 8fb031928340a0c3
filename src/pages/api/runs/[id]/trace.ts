import type { APIRoute } from 'astro';
import { answer, json, parseId, parseSeconds } from '#app/http';
import { runTrace } from '#features/run/server/runTrace';

/** Lines of a run between two times, thinned to the columns of a screen. */
export const GET: APIRoute = ({ params, url }) =>
  answer(async () => {
    const columns = Math.min(4000, Math.max(50, Math.round(parseSeconds(url, 'columns') ?? 600)));
    return json(await runTrace(parseId(params.id, 'run'), parseSeconds(url, 'from'), parseSeconds(url, 'to'), columns));
  });
