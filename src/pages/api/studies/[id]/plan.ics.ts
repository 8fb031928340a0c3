import { attachment, endpoint } from '#app/http';
import { planCalendar } from '#features/study/server/calendarFile';

/** The order of the mounts for a calendar. */
export const GET = endpoint(
  (ask) => [ask.id('study')],
  async (id) => attachment(await planCalendar(id), 'text/calendar', `study-${id}-mounts.ics`),
);
