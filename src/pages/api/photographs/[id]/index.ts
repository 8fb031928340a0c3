import { endpoint, jpeg } from '#app/http';
import { readPhotographForm } from '#features/mount/server/photographForm';
import { picture, removePhotograph, saveReading } from '#features/mount/server/photographs';

/** The picture; with ?small one to glance at. */
export const GET = endpoint(
  (ask) => [ask.id('photograph'), ask.query('small') !== null],
  async (id, small) => jpeg(await picture(id, 'photograph', small)),
);

/** Reads a print anew; multipart with about as JSON and its view. */
export const PUT = endpoint(
  (ask) => [ask.id('photograph'), readPhotographForm(ask.request)],
  (id, { about, view }) => saveReading(id, about, view),
);

/** Takes a photograph out of its mount's record, or puts it back. */
export const PATCH = endpoint(
  (ask) => [ask.id('photograph'), ask.json()],
  (id, { removed }) => removePhotograph(id, removed),
);
