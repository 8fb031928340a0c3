import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#server/http';
import { recommendationsOf, storeRecommendations } from '#server/report/recommend';

export const GET: APIRoute = ({ params }) => answer(async () => json(await recommendationsOf(parseId(params.id, 'study'))));

/** Stores the tester's own words per kind of reader. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => json(await storeRecommendations(parseId(params.id, 'study'), await readJson(request))));
