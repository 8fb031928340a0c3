import { MessageChannel } from 'node:worker_threads';
import { type Client, database } from '#app/database/pool';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { listRunFiles } from '#features/run/store/logFiles';
import type { PackedAxis, PackedChannel } from '#features/run/store/packTrace';
import { intactPieces } from './keptFile';
import { runThreads, type StreamOutcome, type StreamReply, type StreamRequest } from './tasks';

/** Bytes given to the store and the reading thread at a time, and how many such pieces may be on their way. */
const PIECE = 1024 * 1024;
const MOST_PIECES = 8;

interface StreamedReduction {
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  offsets: Record<string, number>;
  sources: AsyncIterable<LogSource> | Iterable<LogSource>;
  /** stops the reading where it is */
  signal?: AbortSignal;
  /** told every piece of every file, before it is read */
  onPiece?: (bytes: Buffer) => Promise<void>;
  /** told each file when its bytes have come */
  onFile?: (source: LogSource) => Promise<void>;
  /** given the channels as soon as all files are read, while they are still being reduced */
  onTrace?: (axes: PackedAxis[], channels: PackedChannel[]) => void;
}

/**
 * Reads and reduces the files of one run in a worker thread while their bytes come, so that no file is held as a whole.
 * One stream from pieces of a file to the stored run; what is open is closed in the same function.
 */
export async function streamReduction(job: StreamedReduction): Promise<StreamOutcome> {
  const { port1: port, port2 } = new MessageChannel();
  const pieces = new PieceStock();
  let over = false;
  let traced = () => {};
  const trace = new Promise<void>((done) => {
    traced = done;
  });
  port.on('message', (reply: StreamReply) => {
    if (reply.kind === 'read') return pieces.give(reply.buffer);
    job.onTrace?.(reply.axes, reply.channels);
    traced();
  });
  const tell = (request: StreamRequest, move: ArrayBuffer[] = []) => port.postMessage(request, move);
  const { reading, options, offsets, signal } = job;
  const outcome = runThreads.reduceStream(
    { port: port2, reading, options, offsets, trace: job.onTrace !== undefined },
    { transferList: [port2], signal },
  );
  const end = () => {
    over = true;
    pieces.open();
  };
  const settled = outcome.then(end, end);
  const send = async (buffer: ArrayBuffer, length: number) => {
    await job.onPiece?.(Buffer.from(buffer, 0, length));
    tell({ kind: 'piece', bytes: new Uint8Array(buffer, 0, length) }, [buffer]);
  };
  try {
    for await (const source of job.sources) {
      tell({ kind: 'file', name: source.name, size: source.size });
      let buffer = await pieces.take();
      let length = 0;
      for await (const part of source.pieces) {
        signal?.throwIfAborted();
        // a file that cannot be read is not taken to its end
        if (over) return await outcome;
        for (let at = 0; at < part.length; ) {
          const taken = Math.min(part.length - at, PIECE - length);
          new Uint8Array(buffer).set(part.subarray(at, at + taken), length);
          at += taken;
          length += taken;
          if (length < PIECE) continue;
          await send(buffer, length);
          buffer = await pieces.take();
          length = 0;
        }
      }
      if (length > 0) await send(buffer, length);
      else pieces.give(buffer);
      tell({ kind: 'end' });
      await job.onFile?.(source);
    }
    tell({ kind: 'done' });
    const answer = await outcome;
    if (answer.ok && job.onTrace) await trace;
    return answer;
  } finally {
    // a thread that still waits for bytes ends with its port
    port.close();
    await settled;
  }
}

/** Buffers that go to the reading thread and come back, so that a file of any size passes through the same few. */
class PieceStock {
  private readonly free: ArrayBuffer[] = [];
  private made = 0;
  private limit = MOST_PIECES;
  private waiting: ((buffer: ArrayBuffer) => void) | null = null;

  /** A free buffer, as soon as there is one. */
  async take(): Promise<ArrayBuffer> {
    const free = this.free.pop();
    if (free) return free;
    if (this.made < this.limit) {
      this.made++;
      return new ArrayBuffer(PIECE);
    }
    return new Promise((done) => {
      this.waiting = done;
    });
  }

  give(buffer: ArrayBuffer): void {
    if (this.waiting) this.waiting(buffer);
    else this.free.push(buffer);
    this.waiting = null;
  }

  /** Lets whoever waits go on: the thread has ended and gives none back. */
  open(): void {
    this.limit = Number.POSITIVE_INFINITY;
    this.waiting?.(new ArrayBuffer(PIECE));
    this.waiting = null;
  }
}

/** A log file whose bytes come piece by piece. */
export interface LogSource {
  name: string;
  /** bytes that will come, or the most they may be; null where it is not said */
  size: number | null;
  pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}

/** A file that is held in memory. */
export const sourceOf = ({ name, bytes }: { name: string; bytes: Uint8Array }): LogSource => ({
  name,
  size: bytes.length,
  pieces: [bytes],
});

/** The kept files of a run. */
export async function keptSources(runId: number, db: Client = database()): Promise<LogSource[]> {
  const files = await listRunFiles(db, runId);
  return files.map((f) => ({ name: f.name, size: f.size, pieces: intactPieces(db, f) }));
}
