import type { APIRoute } from 'astro';
import { answer, json, parseId, readClipForm } from '#server/http';
import { saveSoundClip } from '#server/results/soundClips';

/** Keeps a clip of a cooler; multipart with clip, and about as JSON. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { name, clip, about } = await readClipForm(request);
    return json(await saveSoundClip(parseId(params.id, 'specimen'), name, clip, about), 201);
  });
