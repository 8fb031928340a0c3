import type { APIRoute } from 'astro';
import { answer, json, readJson } from '#app/http';
import { openStudy } from '#features/run/server/places';
import { NewStudy } from '#features/study/model/newStudy';
import { check } from '#rules/validation';

/** Opens a study. */
export const POST: APIRoute = ({ request }) => answer(async () => json({ id: await openStudy(check(NewStudy, await readJson(request))) }, 201));
