import { createHash } from 'node:crypto';
import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { type ProgramResults, readResults } from '#core/signal/performance/readResults';
import { insertLogFile, insertPiece, reserveLogFile } from '#features/run/store/logFiles';
import { deleteResults, insertResults, listResults } from '#features/run/store/programResults';
import { getRun } from '#features/run/store/runs';

export interface ResultFile {
  name: string;
  bytes: Uint8Array;
}

export type ProgramResultsView = { name: string; figures: ProgramResults; comparable: boolean };

/** Most results files of one run. */
const MOST_FILES = 6;

/** What benchmark programs said of a run. */
export const resultsOf = async (runId: number, db: Client = database()): Promise<ProgramResultsView[]> =>
  (await listResults(db, runId)).map(({ name, figures, comparable }) => ({ name, figures, comparable }));

/**
 * Reads results files and keeps them with a run, all or none.
 * @param comparable false where other loads ran beside the program
 */
export async function keepResults(db: Client, runId: number, files: ResultFile[], comparable: boolean): Promise<void> {
  if (files.length + (await listResults(db, runId)).length > MOST_FILES) throw new Refusal(`A run has up to ${MOST_FILES} results files.`);
  for (const { name, bytes } of files) {
    // a sentence of the core's, where it cannot be read
    const figures = readResults(name, bytes);
    const sha256 = createHash('sha256').update(bytes).digest();
    const id = await reserveLogFile(db);
    await insertPiece(db, id, 0, Buffer.from(bytes));
    await insertLogFile(db, id, sha256, name);
    if (!(await insertResults(db, runId, sha256, name, figures, comparable)))
      throw new Refusal(`The run already has the results of ${name}.`, 409);
  }
}

/**
 * Reads a program’s own results files and stores them with a run; gives all of the run.
 * @throws Refusal where a file is none, too large, or already there
 */
export async function attachResults(runId: number, files: ResultFile[], comparable: boolean): Promise<ProgramResultsView[]> {
  if (files.length === 0) throw new Refusal('No results file was sent.');
  return transaction(async (client) => {
    if (!(await getRun(client, runId))) throw new Refusal(`There is no run ${runId}.`, 404);
    await keepResults(client, runId, files, comparable);
    return resultsOf(runId, client);
  });
}

/** Takes a results file from its run; gives those that are left. */
export async function removeResults(runId: number, name: string): Promise<ProgramResultsView[]> {
  if (!(await deleteResults(database(), runId, name))) throw new Refusal(`The run has no results of ${name}.`, 404);
  return resultsOf(runId);
}

const MOST_FORM_BYTES = 64 * 1024 * 1024;

/** Results files sent as a form, bounded, and whether they may be compared. */
export async function readResultsForm(request: Request): Promise<{ files: { name: string; bytes: Uint8Array }[]; comparable: boolean }> {
  const length = Number(request.headers.get('content-length') ?? Number.NaN);
  if (!(length <= MOST_FORM_BYTES)) throw new Refusal(`Results files of up to ${MOST_FORM_BYTES / 1048576} MB are taken.`, 413);
  const form = await request.formData().catch(() => {
    throw new Refusal('The upload is not a form with files; it may have been cut off. Nothing was stored.');
  });
  const sent = form.getAll('results').filter((f): f is File => f instanceof File);
  const files = await Promise.all(sent.map(async (f) => ({ name: f.name.slice(0, 200), bytes: new Uint8Array(await f.arrayBuffer()) })));
  return { files, comparable: form.get('comparable') !== 'no' };
}
