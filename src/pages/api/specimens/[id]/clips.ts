import { endpoint } from '#app/http';
import { readClipForm } from '#features/results/server/clipForm';
import { saveSoundClip } from '#features/results/server/soundClips';

/** Keeps a clip of a cooler; multipart with clip, and about as JSON. */
export const POST = endpoint(
  (ask) => [ask.id('specimen'), readClipForm(ask.request)],
  (id, { name, clip, about }) => saveSoundClip(id, name, clip, about),
  201,
);
