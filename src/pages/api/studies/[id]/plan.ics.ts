import type { APIRoute } from 'astro';
import { answer, parseId } from '#app/http';
import { planCalendar } from '#features/study/server/calendarFile';

/** The order of the mounts for a calendar. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const id = parseId(params.id, 'study');
    return new Response(await planCalendar(id), {
      headers: { 'content-type': 'text/calendar; charset=utf-8', 'content-disposition': `attachment; filename="study-${id}-mounts.ics"` },
    });
  });
