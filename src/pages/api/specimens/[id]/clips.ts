import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { readClipForm } from '#features/results/server/clipForm';
import { saveSoundClip } from '#features/results/server/soundClips';

/** Keeps a clip of a cooler; multipart with clip, and about as JSON. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { name, clip, about } = await readClipForm(request);
    return json(await saveSoundClip(parseId(params.id, 'specimen'), name, clip, about), 201);
  });
