import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#server/http';
import { studyResults } from '#server/studyResults';

/** The comparison of a study at full precision. */
export const GET: APIRoute = ({ params }) => answer(async () => json(await studyResults(parseId(params.id, 'study'), true)));
