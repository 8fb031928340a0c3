import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { removeSoundClip, soundClip } from '#features/results/server/soundClips';

/** A clip, byte for byte. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const { kind, bytes } = await soundClip(parseId(params.id, 'clip'));
    return new Response(new Uint8Array(bytes), { headers: { 'content-type': kind, 'cache-control': 'private, max-age=31536000, immutable' } });
  });

/** Takes a clip out, or puts it back. */
export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => json(await removeSoundClip(parseId(params.id, 'clip'), (await readJson(request)).removed)));
