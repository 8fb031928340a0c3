import { createHash } from 'node:crypto';
import pLimit from 'p-limit';
import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { LogFile } from '#core/signal/reduce/reduceLogs';
import type { ReduceOptions } from '#core/signal/reduce/types';
import type { ImportPlan } from '#features/run/model/importPlan';
import { countUse } from '#features/run/store/layouts';
import { linkRunFile, listRunFiles } from '#features/run/store/logFiles';
import { getRunByImport, insertFindings, insertRun, listRuns, lockImport, type PlacedRun, reserveRun } from '#features/run/store/runs';
import { sensorsOf } from '#features/shelf/model/partSensors';
import { getRigParts, listRigs } from '#features/shelf/store/rigs';
import { readPartLimits } from '#features/study/model/partLimits';
import { getStudy } from '#features/study/store/studies';
import { planFromLog } from './firstPlan';
import { type HashedFile, keepReading, refuseDuplicate } from './keepReading';
import { type FoundPlace, findPlace } from './place';
import { keepResults, type ResultFile } from './programResults';
import { describeRun } from './runView';
import { type LogSource, sourceOf } from './streamReduction';
import { probeResolutions, studyReduction, usualSensors } from './studyReduction';

export interface ImportedRun extends FoundPlace {
  run_id: number;
  /** true where this import had been stored before */
  repeated: boolean;
}

interface ImportOptions {
  /** cancels the import */
  signal?: AbortSignal;
  /** files of benchmark programs */
  results?: ResultFile[];
  /** what is known of the run beyond its study, such as events marked while it went on */
  extra?: Partial<ReduceOptions>;
  /** a person sent the files: under an import that was stored before, other files are refused and not taken for a repetition */
  isSent?: boolean;
  /** number that was reserved for the run */
  run_id?: number;
}

/** Imports that hold a connection to the store at a time; further ones wait for their turn. */
const atOnce = pLimit(4);

/** Imports the files of one run that are held in memory. */
export const importRun = (plan: ImportPlan, files: LogFile[], extra: Partial<ReduceOptions> = {}, run_id?: number): Promise<ImportedRun> =>
  importSources(plan, files.map(sourceOf), { extra, run_id });

/**
 * Imports the files of one run while their bytes come: each piece is kept and read at once, the channels are stored while the run is being
 * reduced, and everything stands in one transaction, so that an import that fails, is cancelled or is cut off leaves nothing.
 * Repeating an import with the same id gives the same run again; a file that already carries a run is refused.
 */
export const importSources = (plan: ImportPlan, sources: LogSource[], how: ImportOptions = {}): Promise<ImportedRun> =>
  atOnce(async () => {
    let first: HashedFile = { name: '', hash: Buffer.alloc(0) };
    try {
      const imported = await transaction(async (client) => {
        const run = await storeImport(client, plan, sources, how, (file) => {
          first = file;
        });
        if (run.repeated) return run;
        await keepResults(client, run.run_id, how.results ?? [], plan.comparable ?? true);
        if (plan.layout_id) await countUse(client, plan.layout_id);
        return run;
      });
      if (!plan.place.study_id && !imported.repeated) await planFromLog(imported.study_id, plan.place.specimen_kind);
      return imported;
    } catch (error) {
      if (how.signal?.aborted) throw new Refusal('The import was cancelled. Nothing was stored.', 409);
      if ((error as { constraint?: string }).constraint === 'run_files_once') await refuseDuplicate(database(), first.name, first.hash);
      throw error;
    }
  });

async function storeImport(
  client: Client,
  plan: ImportPlan,
  sources: LogSource[],
  { signal, extra = {}, isSent = false, run_id }: ImportOptions,
  onFirst: (file: HashedFile) => void,
): Promise<ImportedRun> {
  // a repetition that comes while the first is still being stored waits for it and finds its run
  await lockImport(client, plan.import_id);
  const stored = await getRunByImport(client, plan.import_id);
  if (stored) {
    if (isSent) await refuseOtherFiles(client, stored, sources);
    const { id, study_id, specimen_id, mount_id, rig_id } = stored;
    return { run_id: id, study_id, specimen_id, mount_id, rig_id, repeated: true };
  }
  const options = { ...(await reductionOptions(client, plan)), ...extra };
  const runId = run_id ?? (await reserveRun(client));
  const { files, ...read } = await keepReading(client, runId, {
    ...{ reading: plan.reading, options, offsets: plan.offsets ?? {}, sources, signal, onFirst },
  });
  const place = await findPlace(client, plan.place);
  const { findings, ...result } = read.reduction;
  await insertRun(client, {
    id: runId,
    import_id: plan.import_id,
    mount_id: place.mount_id,
    started_at: read.start_epoch_s === null ? null : new Date(read.start_epoch_s * 1000),
    started_zoned: read.zoned,
    load: plan.place.load ?? null,
    reading: plan.reading,
    options,
    result,
  });
  for (const [position, file] of files.entries()) await linkRunFile(client, runId, position, file.hash, file.name);
  await insertFindings(client, runId, findings);
  return { run_id: runId, ...place, repeated: false };
}

/** Refuses what comes under the name of an import that was stored with other files: it is no repetition, and would be lost as one. */
async function refuseOtherFiles(db: Client, stored: PlacedRun, sources: LogSource[]): Promise<void> {
  const kept = await listRunFiles(db, stored.id);
  for (const source of sources) {
    const hash = createHash('sha256');
    for await (const piece of source.pieces) hash.update(piece);
    const sha256 = hash.digest();
    if (!kept.some((f) => f.sha256.equals(sha256)))
      throw new Refusal(
        `This import was stored before with other files (${kept.map((f) => f.name).join(', ') || 'none'}): it is ${describeRun(stored)}. Nothing was stored of ${source.name}; import it anew.`,
        409,
        { run_id: stored.id },
      );
  }
}

/** What the study, the rig and the mount's first run say about how to reduce, and the person's own choices on top. */
export async function reductionOptions(
  db: Client,
  plan: Pick<ImportPlan, 'place' | 'sensor' | 'room_c' | 'room_u_k'>,
): Promise<Partial<ReduceOptions>> {
  const { place } = plan;
  const study = place.study_id ? await getStudy(db, place.study_id) : null;
  const rig = place.rig_id ? (await listRigs(db)).find((r) => r.id === place.rig_id) : null;
  const runs = study ? await listRuns(db, study.id) : [];
  const load = place.load ?? null;
  // the first run under the same load: another load starts from another state
  const first = place.mount_id
    ? (runs.find((r) => r.mount_id === place.mount_id && r.load === load) ?? runs.find((r) => r.mount_id === place.mount_id))
    : null;
  const held = study && (await studyReduction(db, study, load));
  return {
    margin_k: 1,
    ...held,
    limit_c: rig ? rig.throttle_limit_c : (place.rig_limit_c ?? null),
    sensor: plan.sensor ?? held?.sensor ?? null,
    room_c: plan.room_c ?? null,
    room_u_k: plan.room_u_k ?? null,
    first: first?.result.start_state ?? null,
    sensors: place.specimen_id ? usualSensors(runs, place.specimen_id) : null,
    part_sensors: await partSensors(db, study?.id ?? null, place.rig_id ?? null),
    probe_resolution_k: place.rig_id ? await probeResolutions(db, place.rig_id) : {},
  };
}

/** Columns of other parts that a study's plan gives a limit, or a rig names. */
export async function partSensors(db: Client, studyId: number | null, rigId: number | null): Promise<string[]> {
  const study = studyId === null ? null : await getStudy(db, studyId);
  const planned = (readPartLimits(study?.plan.part_limits ?? '') ?? []).flatMap((l) => l.sensors);
  const own = rigId === null ? [] : ((await getRigParts(db, rigId))?.parts ?? []).flatMap(sensorsOf);
  return [...new Set([...planned, ...own])];
}
