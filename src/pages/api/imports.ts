import type { APIRoute } from 'astro';
import { MAX_LOG_BYTES, MAX_RUN_FILES } from '#core/logs/decode';
import { ImportPlan } from '#domain/importPlan';
import { check } from '#domain/validation';
import { answer, json } from '#server/http';
import { importRun } from '#server/importRun';
import { Refusal } from '#server/refusal';

/** Imports the log files of one run; multipart with the files and the plan as JSON. */
export const POST: APIRoute = ({ request }) =>
  answer(async () => {
    const length = Number(request.headers.get('content-length') ?? Number.NaN);
    if (!Number.isFinite(length)) throw new Refusal('The length of the upload is missing.', 400);
    if (length > MAX_RUN_FILES * MAX_LOG_BYTES)
      throw new Refusal(`The files are larger than the ${(MAX_RUN_FILES * MAX_LOG_BYTES) / 1048576} MB one import may have.`, 413);
    const form = await request.formData().catch(() => {
      throw new Refusal('The upload is not a form with files; it may have been cut off. Nothing was stored.');
    });
    const files = form.getAll('files').filter((f): f is File => f instanceof File);
    const plan = check(ImportPlan, parsePlan(form.get('plan')));
    const logs = await Promise.all(files.map(async (f) => ({ name: f.name.slice(0, 200), bytes: new Uint8Array(await f.arrayBuffer()) })));
    const imported = await importRun(plan, logs);
    return json(imported, imported.repeated ? 200 : 201);
  });

function parsePlan(field: FormDataEntryValue | null): unknown {
  if (typeof field !== 'string') throw new Refusal('The plan of the import is missing.');
  try {
    return JSON.parse(field);
  } catch {
    throw new Refusal('The plan of the import is not valid JSON.');
  }
}
