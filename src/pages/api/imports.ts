import type { APIRoute } from 'astro';
import { MAX_LOG_BYTES, MAX_RUN_FILES } from '#core/logs/decode';
import { ImportPlan } from '#domain/importPlan';
import { check } from '#domain/validation';
import { answer, json } from '#server/http';
import { importSources } from '#server/import/importRun';
import { readImportForm } from '#server/import/readForm';
import { Refusal } from '#server/refusal';

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
