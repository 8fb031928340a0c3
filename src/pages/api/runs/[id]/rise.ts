import { endpoint } from '#app/http';
import { riseSeries } from '#features/run/server/riseSeries';

/** The rise within the load of a run, or within a part of it, as bytes for the window's worker. */
export const GET = endpoint(
  (ask) => [ask.id('run'), ask.seconds('from'), ask.seconds('to')],
  async (id, from, to) =>
    new Response(await riseSeries(id, from, to), { headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' } }),
);
