import { endpoint, jpeg } from '#app/http';
import { picture } from '#features/mount/server/photographs';

/** The part of a print, seen straight from above. */
export const GET = endpoint(
  (ask) => [ask.id('photograph')],
  async (id) => jpeg(await picture(id, 'view', false)),
);
