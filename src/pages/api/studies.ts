import type { APIRoute } from 'astro';
import { NewStudy } from '#domain/newStudy';
import { check } from '#domain/validation';
import { answer, json, readJson } from '#server/http';
import { openStudy } from '#server/places';

/** Opens a study. */
export const POST: APIRoute = ({ request }) => answer(async () => json({ id: await openStudy(check(NewStudy, await readJson(request))) }, 201));
