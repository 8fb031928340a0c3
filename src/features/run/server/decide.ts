import { isDeepStrictEqual } from 'node:util';
import { insertChange } from '#app/database/changes';
import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { Decision } from '#features/run/model/decision';
import { lockRun, updateReading } from '#features/run/store/judgements';
import { getRun, listRuns, type PlacedRun } from '#features/run/store/runs';
import { check } from '#rules/validation';
import { judgedFigures } from './judge';
import { readAnew } from './readAnew';
import { refuseReadMeanwhile, refuseUnseenRun } from './seenRun';

/** What a decision settled. */
export interface Decided {
  /** runs that count now, or whose reading changed */
  settled: number;
  /** runs that still wait for something, with what */
  open: { run_id: number; decision: string[] }[];
}

/**
 * Settles what a run waits for, and where wanted all runs of its study and load that wait for the same: the way is taken into how they are
 * read, they are read again from their files, and the journal keeps what was before.
 */
export async function decideRun(id: number, given: Record<string, unknown>): Promise<Decided> {
  const decision = check(Decision, { ...given, ...(typeof given.reason === 'string' ? { reason: given.reason.trim() } : {}) });
  const run = await getRun(database(), id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  await refuseUnseenRun(database(), id, given);
  const waits = run.result.decision ?? [];
  if (waits.length === 0) throw new Refusal('This run needs no decision.', 409);
  const settles = (decision.accept?.length ?? 0) + (decision.ambient_probes?.length ?? 0) + Object.keys(decision.units ?? {}).length;
  if (settles === 0 && decision.room_c === undefined)
    throw new Refusal('Say how it is decided: accept a finding, name a probe, give a unit, or type the room.');
  const others =
    decision.covers === 'load'
      ? (await listRuns(database(), run.study_id)).filter(
          (r) => r.id !== id && r.load === run.load && r.judged !== 'excluded' && isDeepStrictEqual(r.result.decision, waits),
        )
      : [];
  // all are read before any is stored, and stored together: a decision that one of them cannot take leaves all as they were
  const anew: Anew[] = [];
  for (const each of [run, ...others]) anew.push(await readUnder(each, decision));
  await transaction(async (client) => {
    for (const each of anew) await store(client, each, decision);
  });
  const open = anew.flatMap(({ run: r, reduction }) =>
    reduction.decision.length > 0 ? [{ run_id: r.id, decision: reduction.decision }] : [],
  );
  return { settled: anew.length - open.length, open };
}

/** A run as it reads under a decision. */
interface Anew {
  run: PlacedRun;
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  reduction: Reduction;
}

async function readUnder(run: PlacedRun, decision: Decision): Promise<Anew> {
  const before = run.options as Partial<ReduceOptions>;
  const options: Partial<ReduceOptions> = {
    ...before,
    accept: [...new Set([...(before.accept ?? []), ...(decision.accept ?? [])])],
    ...(decision.ambient_probes ? { ambient_probes: decision.ambient_probes } : {}),
    ...(decision.room_c === undefined ? {} : { room_c: decision.room_c, room_u_k: decision.room_u_k ?? null }),
  };
  const told = run.reading as LogOptions;
  const reading: LogOptions = decision.units ? { ...told, units: { ...told.units, ...decision.units } } : told;
  return { run, reading, options, reduction: await readAnew(run, reading, options) };
}

async function store(client: Client, { run, reading, options, reduction }: Anew, decision: Decision): Promise<void> {
  const { findings, ...result } = reduction;
  await lockRun(client, run.id);
  const now = await getRun(client, run.id);
  if (!now) throw new Refusal(`There is no run ${run.id}.`, 404);
  refuseReadMeanwhile(run, now);
  await updateReading(client, run.id, result, findings, { reading, options }, now.automatic);
  await insertChange(client, {
    ...{ who: decision.who ?? '', subject: 'run', subject_id: run.id, action: 'decide', reason: decision.reason },
    before: { ...judgedFigures(now), decision: now.result.decision ?? [] },
    after: { ...judgedFigures({ result }), decision: result.decision },
  });
}
