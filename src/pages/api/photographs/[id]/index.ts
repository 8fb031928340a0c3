import type { APIRoute } from 'astro';
import { answer, jpeg, json, parseId, readJson } from '#app/http';
import { readPhotographForm } from '#features/mount/server/photographForm';
import { picture, removePhotograph, saveReading } from '#features/mount/server/photographs';

/** The picture; with ?small one to glance at. */
export const GET: APIRoute = ({ params, url }) =>
  answer(async () => jpeg(await picture(parseId(params.id, 'photograph'), 'photograph', url.searchParams.has('small'))));

/** Reads a print anew; multipart with about as JSON and its view. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { about, view } = await readPhotographForm(request);
    return json(await saveReading(parseId(params.id, 'photograph'), about, view));
  });

/** Takes a photograph out of its mount's record, or puts it back. */
export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => json(await removePhotograph(parseId(params.id, 'photograph'), (await readJson(request)).removed)));
