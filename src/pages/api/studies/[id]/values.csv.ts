import { attachment, endpoint } from '#app/http';
import { runValuesCsv } from '#features/results/server/studyResults';

/** Run values of a study as the table that the headless analyse command reads. */
export const GET = endpoint(
  (ask) => [ask.id('study')],
  async (id) => attachment(await runValuesCsv(id), 'text/csv', `study-${id}-runs.csv`),
);
