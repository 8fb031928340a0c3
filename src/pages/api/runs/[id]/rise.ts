import { endpoint } from '#app/http';
import { riseBytes } from '#features/run/server/riseBytes';

/** The rise within the load of a run, or within a part of it, as bytes for the window's worker. */
export const GET = endpoint(
  (ask) => [ask.id('run'), ask.seconds('from'), ask.seconds('to')],
  async (id, from, to) =>
    new Response(await riseBytes(id, from, to), { headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' } }),
);
