import { attachment, endpoint } from '#app/http';
import { dueCalendar } from '#features/results/server/ageingPlace';

/** The next measurement of every mount that is followed over its age, for a calendar. */
export const GET = endpoint(
  (ask) => [ask.id('study')],
  async (id) => attachment(await dueCalendar(id), 'text/calendar', `study-${id}-due.ics`),
);
