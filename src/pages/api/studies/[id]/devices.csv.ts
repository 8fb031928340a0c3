import { attachment, endpoint } from '#app/http';
import { devicesCsv } from '#features/results/server/studyResults';

/** Before, after and change of every device of a study. */
export const GET = endpoint(
  (ask) => [ask.id('study')],
  async (id) => attachment(await devicesCsv(id), 'text/csv', `study-${id}-devices.csv`),
);
