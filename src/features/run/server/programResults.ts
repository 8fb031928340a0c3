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

export type ResultsView = { name: string; figures: ProgramResults; comparable: boolean };

/** Most results files of one run. */
const MOST_FILES = 6;

/** What benchmark programs said of a run. */
export async function resultsOf(runId: number, db: Client = database()): Promise<ResultsView[]> {
  return (await listResults(db, runId)).map(({ name, figures, comparable }) => ({ name, figures, comparable }));
}

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
    if (!(await insertResults(db, runId, sha256, name, figures, comparable))) throw new Refusal(`The run has the results of ${name} already.`, 409);
  }
}

export async function attachResults(runId: number, files: ResultFile[], comparable: boolean): Promise<ResultsView[]> {
  if (files.length === 0) throw new Refusal('No results file was sent.');
  return transaction(async (client) => {
    if (!(await getRun(client, runId))) throw new Refusal(`There is no run ${runId}.`, 404);
    await keepResults(client, runId, files, comparable);
    return resultsOf(runId, client);
  });
}

export async function removeResults(runId: number, name: string): Promise<ResultsView[]> {
  if (!(await deleteResults(database(), runId, name))) throw new Refusal(`The run has no results of ${name}.`, 404);
  return resultsOf(runId);
}
