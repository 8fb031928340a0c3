import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { Refusal } from '#app/refusal';
import { attachResults, removeResults, resultsOf } from '#features/run/server/programResults';

const MOST_BYTES = 64 * 1024 * 1024;

export const GET: APIRoute = ({ params }) => answer(async () => json({ results: await resultsOf(parseId(params.id, 'run')) }));

/** Attaches results files of benchmark programs to a run. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const length = Number(request.headers.get('content-length') ?? Number.NaN);
    if (!(length <= MOST_BYTES)) throw new Refusal(`Results files of up to ${MOST_BYTES / 1048576} MB are taken.`, 413);
    const form = await request.formData().catch(() => {
      throw new Refusal('The upload is not a form with files; it may have been cut off. Nothing was stored.');
    });
    const sent = form.getAll('results').filter((f): f is File => f instanceof File);
    const files = await Promise.all(sent.map(async (f) => ({ name: f.name.slice(0, 200), bytes: new Uint8Array(await f.arrayBuffer()) })));
    return json({ results: await attachResults(parseId(params.id, 'run'), files, form.get('comparable') !== 'no') }, 201);
  });

export const DELETE: APIRoute = ({ params, url }) =>
  answer(async () => json({ results: await removeResults(parseId(params.id, 'run'), url.searchParams.get('name') ?? '') }));
