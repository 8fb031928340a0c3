import { endpoint } from '#app/http';
import { removeSoundClip, soundClip } from '#features/results/server/soundClips';

/** A clip, byte for byte. */
export const GET = endpoint(
  (ask) => [ask.id('clip')],
  async (id) => {
    const { kind, bytes } = await soundClip(id);
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': kind, 'cache-control': 'private, max-age=31536000, immutable' },
    });
  },
);

/** Takes a clip out, or puts it back. */
export const PATCH = endpoint(
  (ask) => [ask.id('clip'), ask.json()],
  (id, { removed }) => removeSoundClip(id, removed),
);
