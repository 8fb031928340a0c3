import type { MessagePort } from 'node:worker_threads';
import { inThreads } from '#app/jobs';
import { LogReader } from '#core/signal/logs/logReader';
import { type Log, LogError, type LogOptions } from '#core/signal/logs/types';
import { reduceTrace } from '#core/signal/reduce/reduce';
import { traceOf } from '#core/signal/reduce/reduceLogs';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { type PackedAxis, type PackedChannel, packAxis, packChannel } from '#features/run/store/packTrace';

interface StreamJob {
  /** by which the bytes of the files come */
  port: MessagePort;
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  offsets: Record<string, number>;
  /** whether the channels are wanted beside the reduction */
  trace: boolean;
}

/** What a reading thread says. */
export type StreamReply = { kind: 'read'; buffer: ArrayBuffer } | { kind: 'trace'; axes: PackedAxis[]; channels: PackedChannel[] };

/** What a reading thread is told. */
export type StreamRequest =
  | { kind: 'file'; name: string; size: number | null }
  | { kind: 'piece'; bytes: Uint8Array<ArrayBuffer> }
  | { kind: 'end' }
  | { kind: 'done' };

export type StreamOutcome =
  | { ok: true; reduction: Reduction; rise: PackedChannel | null; start_epoch_s: number | null; zoned: boolean }
  | { ok: false; problem: string };

/** Reads and reduces the files of one run as their bytes come. A file that cannot be read is an answer, not a crash of the worker. */
function reduceStream(job: StreamJob): Promise<StreamOutcome> {
  const { port, reading, options } = job;
  const logs: Log[] = [];
  let reader: LogReader | null = null;
  return new Promise((resolve, reject) => {
    const take = (request: StreamRequest) => {
      switch (request.kind) {
        case 'file':
          reader = new LogReader(
            request.name,
            { ...reading, sensor: options.sensor ?? undefined, parts: options.part_sensors },
            request.size,
          );
          return;
        case 'piece':
          reader?.feed(request.bytes);
          // the buffer goes back to be filled again
          return port.postMessage({ kind: 'read', buffer: request.bytes.buffer } satisfies StreamReply, [request.bytes.buffer]);
        case 'end':
          if (reader) logs.push(reader.end());
          reader = null;
          return;
        case 'done':
          return resolve(reduceRead(job, logs));
      }
    };
    port.on('message', (request: StreamRequest) => {
      try {
        take(request);
      } catch (error) {
        port.close();
        if (error instanceof LogError) resolve({ ok: false, problem: error.message });
        else reject(error);
      }
    });
    port.on('close', () => resolve({ ok: false, problem: 'The upload was cut off. Nothing was stored.' }));
  });
}

function reduceRead(job: StreamJob, logs: Log[]): StreamOutcome {
  const trace = traceOf(logs, job.reading, job.options, job.offsets);
  const axes: Float64Array[] = [];
  const axisOf = (t: Float64Array) => {
    const known = axes.indexOf(t);
    return known >= 0 ? known : axes.push(t) - 1;
  };
  if (job.trace) {
    const channels = trace.channels.map(({ name, file, role, unit, t, values }) =>
      packChannel({ name, file, role, unit, axis: axisOf(t) }, values),
    );
    postTrace(job.port, axes.map(packAxis), channels);
  }
  const { reduction, rise } = reduceTrace(trace, job.options);
  return {
    ok: true,
    reduction,
    rise: rise && job.trace ? packChannel({ name: 'Rise', file: '', role: 'rise', unit: 'K', axis: axisOf(rise.t) }, rise.values) : null,
    start_epoch_s: logs[0].time.start_epoch_s,
    zoned: logs[0].time.zoned,
  };
}

/** Sends the channels on before the reduction, so that they are stored meanwhile. */
function postTrace(port: MessagePort, axes: PackedAxis[], channels: PackedChannel[]): void {
  const buffers = [...axes.flatMap((a) => [a.t, a.blocks]), ...channels.flatMap((c) => [c.readings, c.blocks])].map(
    (b) => b.buffer as ArrayBuffer,
  );
  port.postMessage({ kind: 'trace', axes, channels } satisfies StreamReply, buffers);
}

export const runTasks = { reduceStream };
export const runThreads = inThreads(runTasks);
