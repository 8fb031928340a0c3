import type { APIRoute } from 'astro';
import { answer, parseId } from '#app/http';
import { dueCalendar } from '#features/results/server/ageingPlace';

/** The next measurement of every mount that is followed over its age, for a calendar. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const id = parseId(params.id, 'study');
    return new Response(await dueCalendar(id), {
      headers: { 'content-type': 'text/calendar; charset=utf-8', 'content-disposition': `attachment; filename="study-${id}-due.ics"` },
    });
  });
