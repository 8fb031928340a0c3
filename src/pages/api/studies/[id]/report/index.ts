import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { reportContent } from '#features/report/server/content';
import { changeDraft } from '#features/report/server/draft';

/** The report as it stands, all values at full precision. */
export const GET: APIRoute = ({ params }) => answer(async () => json(await reportContent(parseId(params.id, 'study'))));

/** Stores order and words of its sections. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await changeDraft(parseId(params.id, 'study'), await readJson(request))));
