import { endpoint, json } from '#app/http';
import { layouts, rememberLayout, takeLayouts } from '#features/run/server/layouts';

/** How files of each kind are read. */
export const GET = endpoint(
  () => [],
  async () => ({ layouts: await layouts() }),
);

/** Remembers one layout, or takes over a file of them. */
export const POST = endpoint(
  (ask) => [ask.json(4 * 1024 * 1024)],
  async (body) => ('layouts' in body ? { layouts: await takeLayouts(body) } : json(await rememberLayout(body), 201)),
);
