import { randomUUID } from 'node:crypto';
import type { FileHandle } from 'node:fs/promises';
import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { noteWritten } from '#app/database/pool';
import { errorResponse } from '#app/http';
import { Refusal } from '#app/refusal';
import { ArrivalChoices, type ArrivalPreview } from '#features/exchange/model/arrival';
import type { ForeignFile } from '#features/exchange/model/foreignTables';
import { readBack, spoolBytes } from '#features/run/server/spool';
import { check } from '#rules/validation';
import { foreignPackage } from './foreignPackage';
import { importPackage, packageHash } from './importPackage';
import { openHeldPackage, PackageError } from './openPackage';
import { previewPackage } from './previewPackage';

/** Packages wait so long for a decision, and so many at a time. */
const WAIT_MS = 60 * 60_000;
const MOST_HELD = 4;
const MOST_BYTES = 20e9;
const STALL_MS = 60_000;

interface Held {
  name: string;
  file: FileHandle;
  timer: NodeJS.Timeout;
  busy: boolean;
  /** nobody wants it any more: it goes when it is not busy */
  dropped: boolean;
}

/** Packages that were sent and wait for a decision. The pages' code is bundled apart from the server's, and shares nothing but the process. */
const HELD = Symbol.for('warm-gauge.packages');
const shared = globalThis as { [HELD]?: Map<string, Held> };
const held = (): Map<string, Held> => (shared[HELD] ??= new Map());

/** A package that was sent: what it would bring, and by which token it comes in; or what another program's says, as files that are read like logs. */
export type LookedPackage = { token: string; preview: ArrivalPreview } | { foreign: ForeignFile[] };

/**
 * Takes a package onto the disk and tells what it would bring. It waits there for an hour to be brought in or dropped.
 * @throws Refusal in a sentence where it is none
 */
export async function lookAtPackage(request: Request, name: string): Promise<LookedPackage> {
  if (!request.body) throw new Refusal('No package was sent.');
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BYTES)
    throw new Refusal(`A package of up to ${MOST_BYTES / 1e9} GB is taken here; a larger one comes in by ./warm-gauge import.`, 413);
  const { file } = await spoolBytes(unlessStalled(request.body as unknown as NodeStream<Uint8Array>));
  try {
    const foreign = await foreignPackage(file, name);
    if (foreign) {
      await file.close();
      return { foreign };
    }
    const opened = await openHeldPackage(file, name);
    const preview = await previewPackage(opened);
    const token = randomUUID();
    const [oldest] = [...held()].find(([, h]) => !h.busy) ?? [];
    if (held().size >= MOST_HELD && oldest) await dropPackage(oldest);
    held().set(token, { name, file, busy: false, dropped: false, timer: setTimeout(() => void dropPackage(token), WAIT_MS).unref() });
    return { token, preview };
  } catch (error) {
    await file.close();
    throw inWords(error);
  }
}

const inWords = (error: unknown): unknown => (error instanceof PackageError ? new Refusal(error.message) : error);

/** Bytes as they come; an upload of which nothing comes for a minute is dropped, and one that grows too large. */
async function* unlessStalled(body: NodeStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const source = Readable.fromWeb(body);
  const stalled = setTimeout(
    () => source.destroy(new Refusal('No byte came for a minute, so the upload was dropped. Nothing was stored; send it again.', 408)),
    STALL_MS,
  );
  let bytes = 0;
  try {
    for await (const piece of source) {
      stalled.refresh();
      bytes += piece.length;
      if (bytes > MOST_BYTES) throw new Refusal(`A package of up to ${MOST_BYTES / 1e9} GB is taken here.`, 413);
      yield piece;
    }
  } finally {
    clearTimeout(stalled);
  }
}

/** Lets go of a package that was sent; one that is gone already is no fault. */
export async function dropPackage(token: string): Promise<{ ok: true }> {
  const found = held().get(token);
  if (found) found.dropped = true;
  if (found && !found.busy) {
    held().delete(token);
    clearTimeout(found.timer);
    await found.file.close();
  }
  return { ok: true };
}

/** One line of the answer while a package comes in. */
export type ArrivalLine = { done: number; total: number } | { stored: Awaited<ReturnType<typeof importPackage>> } | { error: string };

/**
 * Brings a package in that was looked at. The answer is a line of JSON for each step, the last one what came in or why nothing did; who goes
 * away cancels it.
 */
export async function bringPackage(token: string, given: unknown, signal: AbortSignal): Promise<Response> {
  const found = held().get(token);
  if (!found) throw new Refusal('The package is not held here any more; choose the file again.', 404);
  if (found.busy) throw new Refusal('The package is being brought in already.', 409);
  const choices = check(ArrivalChoices, given);
  found.busy = true;
  const stop = new AbortController();
  signal.addEventListener('abort', () => stop.abort());
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async start(controller) {
      const write = (line: ArrivalLine) => {
        try {
          controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
        } catch {
          // who asked has gone
          stop.abort();
        }
      };
      try {
        const opened = await openHeldPackage(found.file, found.name);
        const sha256 = await packageHash(readBack(found.file));
        const stored = await importPackage(opened, {
          ...{ choices, sha256, signal: stop.signal },
          say: (done, total) => write({ done, total }),
        });
        found.busy = false;
        await dropPackage(token);
        // the answer began before anything was written
        await noteWritten();
        write({ stored });
      } catch (error) {
        found.busy = false;
        if (found.dropped) await dropPackage(token);
        const { error: sentence } = await errorResponse(inWords(error)).json();
        write({ error: sentence });
      }
      try {
        controller.close();
      } catch {
        // closed by who asked
      }
    },
    cancel: () => stop.abort(),
  });
  return new Response(body, {
    headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  });
}
