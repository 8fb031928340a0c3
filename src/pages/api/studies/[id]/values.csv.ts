import type { APIRoute } from 'astro';
import { answer, parseId } from '#app/http';
import { runValuesCsv } from '#features/results/server/studyResults';

/** Run values of a study as the table that the headless analyse command reads. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const id = parseId(params.id, 'study');
    const text = await runValuesCsv(id);
    return new Response(text, { headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': `attachment; filename="study-${id}-runs.csv"` } });
  });
