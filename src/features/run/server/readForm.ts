import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { Busboy, type BusboyFileStream, type BusboyHeaders } from '@fastify/busboy';
import { Refusal } from '#app/refusal';
import { storable } from '#app/storable';
import { MAX_LOG_BYTES, MAX_RUN_FILES } from '#core/signal/logs/decode';
import { ImportPlan } from '#features/run/model/importPlan';
import { check } from '#rules/validation';
import { type ImportedRun, importSources } from './importRun';
import type { ResultFile } from './programResults';
import { type SpooledFile, spool } from './spool';

const MOST_PLAN_BYTES = 256 * 1024;

/** A part of an import's form: the plan, then the files, each with its bytes as they come. */
type Part = { plan: string } | { name: string; stream: BusboyFileStream; isResults: boolean };

interface ImportForm {
  plan: unknown;
  sources: SpooledFile[];
  results: ResultFile[];
  /** gives back the room that the files took */
  close: () => Promise<void>;
}

/** An upload of which nothing more comes is dropped after so long. */
const STALL_MS = 60_000;

/**
 * Takes the form of an import in: its plan, then its files, each into a file on disk. Until all has come neither the store nor a thread is at
 * work for it, so that an upload that is slow or stalls keeps nobody else waiting.
 * @param stall_ms dropped where no byte comes for so long
 * @throws Refusal where the form is cut off, stalls, is too large, or its plan is missing
 */
export async function readImportForm(request: Request, stall_ms = STALL_MS): Promise<ImportForm> {
  const type = request.headers.get('content-type') ?? '';
  if (!request.body || !/^multipart\/form-data; *boundary=./i.test(type))
    throw new Refusal('The upload is not a form with files; it may have been cut off. Nothing was stored.');
  const files: SpooledFile[] = [];
  const close = async () => {
    for (const file of files) await file.close();
  };
  try {
    const results: ResultFile[] = [];
    let plan: string | null = null;
    for await (const part of partsOf(request.body as unknown as NodeStream<Uint8Array>, { 'content-type': type }, stall_ms)) {
      if ('plan' in part) {
        if (plan !== null) throw new Refusal('The import plan was sent twice.');
        plan = part.plan;
        continue;
      }
      if (plan === null) throw new Refusal('The import plan is missing; it comes before the files.');
      if (part.isResults) results.push({ name: part.name, bytes: new Uint8Array(await buffer(part.stream)) });
      else files.push(await spool(part.name, part.stream));
      if (part.stream.truncated) throw new Refusal(`${part.name} has over ${MAX_LOG_BYTES / 1048576} MB, the largest that is read.`, 413);
    }
    if (plan === null) throw new Refusal('The import plan is missing; it comes before the files.');
    return { plan: parsePlan(plan), sources: files, results, close };
  } catch (error) {
    await close();
    throw error;
  }
}

/** Parts of a form in their order; the next is read when the one before was taken. */
async function* partsOf(body: NodeStream<Uint8Array>, headers: BusboyHeaders, stall_ms: number): AsyncGenerator<Part> {
  const ready: Part[] = [];
  let ended = false;
  let failure: Error | null = null;
  let wake = () => {};
  const say = () => wake();
  const form = new Busboy({
    headers,
    limits: { fieldSize: MOST_PLAN_BYTES, fields: 4, files: 2 * MAX_RUN_FILES, fileSize: MAX_LOG_BYTES },
  });
  form.on('field', (name, value, _, isCut) => {
    if (name !== 'plan') return;
    if (isCut) failure = new Refusal('The import plan is too large.', 413);
    else ready.push({ plan: value });
    say();
  });
  form.on('file', (field, stream, name) => {
    ready.push({ name: (name || 'log').slice(0, 200), stream, isResults: field === 'results' });
    stream.on('error', say);
    say();
  });
  form.on('finish', () => {
    ended = true;
    say();
  });
  const cut = () => {
    if (!ended) failure ??= new Refusal('The upload was cut off. Nothing was stored.');
    for (const part of ready) if ('stream' in part) part.stream.destroy(failure ?? undefined);
    current?.destroy(failure ?? undefined);
    say();
  };
  let current: BusboyFileStream | null = null;
  form.on('error', cut);
  const source = Readable.fromWeb(body);
  source.on('error', cut);
  source.pipe(form);
  const stalled = setTimeout(() => {
    failure ??= new Refusal('No byte came for a minute, so the upload was dropped. Nothing was stored; send it again.', 408);
    cut();
  }, stall_ms);
  source.on('data', () => stalled.refresh());
  try {
    for (;;) {
      if (failure) throw failure;
      const part = ready.shift();
      if (part) {
        current = 'stream' in part ? part.stream : null;
        yield part;
        current = null;
      } else if (ended) return;
      else
        await new Promise<void>((done) => {
          wake = done;
        });
    }
  } finally {
    clearTimeout(stalled);
    source.unpipe(form);
    // what still comes is let go by, so that the answer is heard
    source.resume();
  }
}

function parsePlan(text: string): unknown {
  let plan: unknown;
  try {
    plan = JSON.parse(text);
  } catch {
    throw new Refusal('The import plan is not valid JSON.');
  }
  return storable(plan);
}

/** Imports the run of a form: its plan, then its files as their bytes come. */
export async function importForm(request: Request): Promise<ImportedRun> {
  const length = Number(request.headers.get('content-length') ?? Number.NaN);
  if (!Number.isFinite(length)) throw new Refusal('The length of the upload is missing.', 400);
  if (length > MAX_RUN_FILES * MAX_LOG_BYTES)
    throw new Refusal(`The files are larger than the ${(MAX_RUN_FILES * MAX_LOG_BYTES) / 1048576} MB one import may have.`, 413);
  const form = await readImportForm(request);
  try {
    return await importSources(check(ImportPlan, form.plan), form.sources, {
      ...{ signal: request.signal, results: form.results, isSent: true },
    });
  } finally {
    await form.close();
  }
}
