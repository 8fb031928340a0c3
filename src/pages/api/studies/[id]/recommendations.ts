import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { storeRecommendations, studyRecommendations } from '#features/results/server/recommend';

export const GET: APIRoute = ({ params }) => answer(async () => json(await studyRecommendations(parseId(params.id, 'study'))));

/** Stores the tester's own words per kind of reader. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => json(await storeRecommendations(parseId(params.id, 'study'), await readJson(request))));
