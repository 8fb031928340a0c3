import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { Refusal } from '#app/refusal';
import { readPhotographForm } from '#features/mount/server/photographForm';
import { savePhotograph } from '#features/mount/server/photographs';

/** Saves a photograph into a mount's record; multipart with photo, about as JSON, and for a print its view. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { photo, about, view } = await readPhotographForm(request);
    if (!photo) throw new Refusal('The photograph is missing.');
    return json(await savePhotograph(parseId(params.id, 'mount'), photo, about, view), 201);
  });
