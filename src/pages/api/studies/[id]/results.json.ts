import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { resultsPlace } from '#features/results/server/resultsPlace';

/** The comparison of a study at full precision, with the facts it rests on. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const { results, ...place } = await resultsPlace(parseId(params.id, 'study'));
    return json({ ...results, ...place, analysis: place.answer.analysis });
  });
