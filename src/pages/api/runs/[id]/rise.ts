import type { APIRoute } from 'astro';
import { answer, parseId, parseSeconds } from '#app/http';
import { riseSeries } from '#features/run/server/riseSeries';

/** The rise within the load of a run, or within a part of it, as bytes for the window's worker. */
export const GET: APIRoute = ({ params, url }) =>
  answer(async () => {
    const bytes = await riseSeries(parseId(params.id, 'run'), parseSeconds(url, 'from'), parseSeconds(url, 'to'));
    return new Response(bytes, { headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' } });
  });
