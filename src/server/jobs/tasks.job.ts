import type { MessagePort } from 'node:worker_threads';
import { analyse } from '#core/compare/analyse';
import type { AnalysisRow } from '#core/compare/rows';
import type { AnalysisOptions } from '#core/compare/types';
import type { CourseSoFar } from '#core/live/courseSoFar';
import { type ForecastOptions, forecastSteady } from '#core/live/forecast';
import { LogReader } from '#core/logs/logReader';
import { type Log, LogError, type LogOptions } from '#core/logs/types';
import { drawOrder } from '#core/plan/order';
import type { OrderPlan } from '#core/plan/orderTypes';
import { reduceTrace } from '#core/reduce/reduce';
import { traceOf } from '#core/reduce/reduceLogs';
import type { ReduceOptions, Reduction } from '#core/reduce/types';
import { type PackedAxis, type PackedChannel, packAxis, packChannel } from '#db/packTrace';
import { answerCoolers } from '#domain/coolers/answer';
import type { CoolerQuestion } from '#domain/coolers/figures';
import { sweepsOf } from '#domain/coolers/sweeps';
import { answerResults } from '#domain/results/answer';
import { beforeAndAfter } from '#domain/results/beforeAfter';
import type { ResultsChoice, StudyFacts } from '#domain/results/facts';
import { checkRests, type RestKey, type RestsOn, restsNow } from '#domain/results/recommendation';

export interface StreamJob {
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
export function reduceStream(job: StreamJob): Promise<StreamOutcome> {
  const { port, reading, options } = job;
  const logs: Log[] = [];
  let reader: LogReader | null = null;
  return new Promise((resolve, reject) => {
    const take = (request: StreamRequest) => {
      switch (request.kind) {
        case 'file':
          reader = new LogReader(request.name, { ...reading, sensor: options.sensor ?? undefined }, request.size);
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
    const channels = trace.channels.map(({ name, file, role, unit, t, values }) => packChannel({ name, file, role, unit, axis: axisOf(t) }, values));
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
  const buffers = [...axes.flatMap((a) => [a.t, a.blocks]), ...channels.flatMap((c) => [c.readings, c.blocks])].map((b) => b.buffer as ArrayBuffer);
  port.postMessage({ kind: 'trace', axes, channels } satisfies StreamReply, buffers);
}

export interface ForecastJob extends CourseSoFar {
  options: ForecastOptions;
}

export function forecast({ t, rise, power, options }: ForecastJob) {
  return forecastSteady(t, rise, power, options);
}

export interface OrderJob {
  plan: OrderPlan;
  seed: number;
}

export function drawMounts({ plan, seed }: OrderJob) {
  return drawOrder(plan, seed);
}

export interface ComparisonJob {
  rows: AnalysisRow[];
  options: Partial<AnalysisOptions>;
}

export function compareRuns(job: ComparisonJob) {
  return analyse(job.rows, job.options);
}

export interface AnswerJob {
  facts: StudyFacts;
  choice: ResultsChoice;
  confidence: number;
}

export function answer({ facts, choice, confidence }: AnswerJob) {
  return answerResults(facts, choice, confidence);
}

export interface RestsJob<R> {
  facts: StudyFacts;
  rests: R[];
  confidence: number;
}

export function heldAgainstNow({ facts, rests, confidence }: RestsJob<RestsOn>) {
  return checkRests(facts, rests, confidence);
}

export function verdictsNow({ facts, rests, confidence }: RestsJob<RestKey>) {
  return restsNow(facts, rests, confidence);
}

export function states(facts: StudyFacts) {
  return beforeAndAfter(facts);
}

export interface CoolersJob {
  facts: StudyFacts;
  question: CoolerQuestion;
}

export function coolers({ facts, question }: CoolersJob) {
  return answerCoolers(facts, sweepsOf(facts), question);
}
