import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { freezeReport, reportVersions } from '#features/report/server/freeze';

export const GET: APIRoute = ({ params }) => answer(async () => json(await reportVersions(parseId(params.id, 'study'))));

/** Publishes the report as it stands. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await freezeReport(parseId(params.id, 'study'), await readJson(request)), 201));
