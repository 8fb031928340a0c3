import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { Refusal } from '#app/refusal';
import { readPhotographForm } from '#features/mount/server/photographForm';
import { saveRigPhotograph } from '#features/mount/server/photographs';

/** Saves a photograph of a step of taking a rig apart. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { photo, about } = await readPhotographForm(request);
    if (!photo) throw new Refusal('The photograph is missing.');
    return json(await saveRigPhotograph(parseId(params.id, 'rig'), photo, about), 201);
  });
