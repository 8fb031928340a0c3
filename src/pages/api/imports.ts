import type { APIRoute } from 'astro';
import { answer, json } from '#app/http';
import { Refusal } from '#app/refusal';
import { MAX_LOG_BYTES, MAX_RUN_FILES } from '#core/signal/logs/decode';
import { ImportPlan } from '#features/run/model/importPlan';
import { importSources } from '#features/run/server/importRun';
import { readImportForm } from '#features/run/server/readForm';
import { check } from '#rules/validation';

/** Imports the log files of one run; multipart with the plan as JSON and then the files. Closing the connection cancels it. */
export const POST: APIRoute = ({ request }) =>
  answer(async () => {
    const length = Number(request.headers.get('content-length') ?? Number.NaN);
    if (!Number.isFinite(length)) throw new Refusal('The length of the upload is missing.', 400);
    if (length > MAX_RUN_FILES * MAX_LOG_BYTES)
      throw new Refusal(`The files are larger than the ${(MAX_RUN_FILES * MAX_LOG_BYTES) / 1048576} MB one import may have.`, 413);
    const form = await readImportForm(request);
    try {
      const imported = await importSources(check(ImportPlan, form.plan), form.sources, request.signal, form.results);
      return json(imported, imported.repeated ? 200 : 201);
    } finally {
      await form.close();
    }
  });
