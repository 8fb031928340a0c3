import { endpoint, json } from '#app/http';
import { importForm } from '#features/run/server/readForm';

/** Imports the log files of one run; multipart with the plan as JSON and then the files. Closing the connection cancels it. */
export const POST = endpoint(
  (ask) => [ask.request],
  async (request) => {
    const imported = await importForm(request);
    return json(imported, imported.repeated ? 200 : 201);
  },
);
