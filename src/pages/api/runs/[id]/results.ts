import { endpoint } from '#app/http';
import { attachResults, readResultsForm, removeResults, resultsOf } from '#features/run/server/programResults';

export const GET = endpoint(
  (ask) => [ask.id('run')],
  async (id) => ({ results: await resultsOf(id) }),
);

/** Attaches results files of benchmark programs to a run. */
export const POST = endpoint(
  (ask) => [ask.id('run'), readResultsForm(ask.request)],
  async (id, { files, comparable }) => ({ results: await attachResults(id, files, comparable) }),
  201,
);

export const DELETE = endpoint(
  (ask) => [ask.id('run'), ask.query('name') ?? ''],
  async (id, name) => ({ results: await removeResults(id, name) }),
);
