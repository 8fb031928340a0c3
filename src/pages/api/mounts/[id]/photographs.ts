import { endpoint } from '#app/http';
import { readPhotograph } from '#features/mount/server/photographForm';
import { savePhotograph } from '#features/mount/server/photographs';

/** Saves a photograph into a mount's record; multipart with photo, about as JSON, and for a print its view. */
export const POST = endpoint(
  (ask) => [ask.id('mount'), readPhotograph(ask.request)],
  (id, { photo, about, view }) => savePhotograph(id, photo, about, view),
  201,
);
