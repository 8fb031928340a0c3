import { endpoint } from '#app/http';
import { readPhotograph } from '#features/mount/server/photographForm';
import { saveRigPhotograph } from '#features/mount/server/photographs';

/** Saves a photograph of a step of taking a rig apart. */
export const POST = endpoint(
  (ask) => [ask.id('rig'), readPhotograph(ask.request)],
  (id, { photo, about }) => saveRigPhotograph(id, photo, about),
  201,
);
