import type { APIRoute } from 'astro';
import { answer, parseId } from '#server/http';
import { riseSeries } from '#server/run/riseSeries';

/** Readings of the rise within the load, as bytes. */
export const GET: APIRoute = ({ params }) =>
  answer(
    async () =>
      new Response(await riseSeries(parseId(params.id, 'run')), { headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' } }),
  );
