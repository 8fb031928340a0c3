import { createHash } from 'node:crypto';
import { MAX_LOG_BYTES, MAX_RUN_FILES } from '#core/logs/decode';
import type { LogFile } from '#core/reduce/reduceLogs';
import type { ReduceOptions } from '#core/reduce/types';
import { insertLogFile, linkRunFile } from '#db/logFiles';
import { type Client, database, transaction } from '#db/pool';
import { insertRig, listRigs } from '#db/rigs';
import { findRunByFile, getRunByImport, insertFindings, insertRun, listRuns, lockImport } from '#db/runs';
import { getStudy, insertMount, insertSpecimen, insertStudy, listMounts, listSpecimens } from '#db/studies';
import { insertTrace } from '#db/traces';
import type { ImportPlan, RunPlace } from '#domain/importPlan';
import { runReduction } from './jobs/pool';
import type { ReductionOutcome } from './jobs/tasks.job';
import { Refusal } from './refusal';
import { describeRun } from './runView';

export interface ImportedRun {
  run_id: number;
  study_id: number;
  /** true where this import had been stored before */
  repeated: boolean;
}

/** A run that is read and reduced, and waits to be stored. */
export interface PreparedImport {
  plan: ImportPlan;
  files: LogFile[];
  hashes: Buffer[];
  options: Partial<ReduceOptions>;
  outcome: Extract<ReductionOutcome, { ok: true }>;
}

/**
 * Imports the files of one run: reads, reduces, and stores everything in one transaction.
 * Repeating an import with the same id gives the same run again; a file that already carries a run is refused.
 */
export async function importRun(plan: ImportPlan, files: LogFile[]): Promise<ImportedRun> {
  const prepared = await prepareImport(plan, files);
  return 'run_id' in prepared ? prepared : storeImport(prepared);
}

/** Checks, reads and reduces the files of one run in a worker thread; an import that was stored before gives its run. */
export async function prepareImport(plan: ImportPlan, files: LogFile[]): Promise<PreparedImport | ImportedRun> {
  if (files.length === 0 || files.length > MAX_RUN_FILES) throw new Refusal(`A run has 1 to ${MAX_RUN_FILES} log files; ${files.length} were sent.`);
  for (const f of files) {
    if (f.bytes.length > MAX_LOG_BYTES)
      throw new Refusal(`${f.name} has ${Math.round(f.bytes.length / 1048576)} MB; up to ${MAX_LOG_BYTES / 1048576} MB are read.`, 413);
  }
  const db = database();
  const before = await getRunByImport(db, plan.import_id);
  if (before) return { run_id: before.id, study_id: before.study_id, repeated: true };
  const hashes = files.map((f) => createHash('sha256').update(f.bytes).digest());
  await refuseDuplicate(db, files[0].name, hashes[0]);
  if (hashes.some((h, i) => hashes.findIndex((o) => o.equals(h)) !== i)) throw new Refusal('The same file was given twice for this run.', 409);
  const options = await reductionOptions(db, plan);
  const outcome = await runReduction({ files, reading: plan.reading, options, offsets: plan.offsets ?? {} });
  if (!outcome.ok) throw new Refusal(outcome.problem);
  return { plan, files, hashes, options, outcome };
}

/** Stores a prepared run with its place, files, trace and findings, all or nothing. */
export async function storeImport({ plan, files, hashes, options, outcome }: PreparedImport): Promise<ImportedRun> {
  const { findings, ...result } = outcome.reduction;
  try {
    return await transaction(async (client) => {
      // a repetition that comes while the first is still being stored waits for it and finds its run
      await lockImport(client, plan.import_id);
      const stored = await getRunByImport(client, plan.import_id);
      if (stored) return { run_id: stored.id, study_id: stored.study_id, repeated: true };
      const place = await findPlace(client, plan.place);
      const run = await insertRun(client, {
        import_id: plan.import_id,
        mount_id: place.mount_id,
        started_at: outcome.start_epoch_s === null ? null : new Date(outcome.start_epoch_s * 1000),
        started_zoned: outcome.zoned,
        reading: plan.reading,
        options,
        result,
      });
      for (const [position, file] of files.entries()) {
        await insertLogFile(client, hashes[position], file.name, file.bytes);
        await linkRunFile(client, run.id, position, hashes[position], file.name);
      }
      await insertTrace(client, run.id, outcome.axes, outcome.channels);
      await insertFindings(client, run.id, findings);
      return { run_id: run.id, study_id: place.study_id, repeated: false };
    });
  } catch (error) {
    if ((error as { constraint?: string }).constraint === 'run_files_once') await refuseDuplicate(database(), files[0].name, hashes[0]);
    throw error;
  }
}

async function refuseDuplicate(db: Client, name: string, hash: Buffer): Promise<void> {
  const known = await findRunByFile(db, hash);
  if (known) throw new Refusal(`${name} is already imported: it is ${describeRun(known)}. A log counts once; nothing was stored.`, 409, { run_id: known.id });
}

/** What the study, the rig and the mount's first run say about how to reduce, and the person's own choices on top. */
async function reductionOptions(db: Client, plan: ImportPlan): Promise<Partial<ReduceOptions>> {
  const { place } = plan;
  const study = place.study_id ? await getStudy(db, place.study_id) : null;
  const rig = place.rig_id ? (await listRigs(db)).find((r) => r.id === place.rig_id) : null;
  const first = place.mount_id && study ? (await listRuns(db, study.id)).find((r) => r.mount_id === place.mount_id) : null;
  return {
    ...study?.reduction,
    margin_k: study?.margin_k ?? 1,
    limit_c: rig ? rig.throttle_limit_c : (place.rig_limit_c ?? null),
    sensor: plan.sensor ?? study?.reduction.sensor ?? null,
    room_c: plan.room_c ?? null,
    room_u_k: plan.room_u_k ?? null,
    first: first?.result.start_state ?? null,
  };
}

/** Finds or opens study, specimen, rig and mount, and refuses what does not fit together. */
async function findPlace(client: Client, place: RunPlace): Promise<{ study_id: number; mount_id: number }> {
  const studyId = place.study_id ?? (await openStudy(client, place));
  if (!(await getStudy(client, studyId))) throw new Refusal('The study is not there any more; choose another or open a new one.', 404);
  const specimenId = place.specimen_id ?? (await openSpecimen(client, studyId, place));
  const specimen = (await listSpecimens(client, studyId)).find((s) => s.id === specimenId);
  if (!specimen) throw new Refusal('The specimen does not belong to this study; choose one of its specimens or name a new one.');
  const rigId = place.rig_id ?? (await openRig(client, place));
  const rig = (await listRigs(client)).find((r) => r.id === rigId);
  if (!rig) throw new Refusal('The rig is not there any more; choose another or name a new one.', 404);
  if (!place.mount_id) return { study_id: studyId, mount_id: (await insertMount(client, specimenId, rigId, place.mount_note ?? '')).id };
  const mount = (await listMounts(client, studyId)).find((m) => m.id === place.mount_id);
  if (!mount || mount.specimen_id !== specimenId) throw new Refusal(`The mount does not belong to ${specimen.name}; choose one of its mounts or a new one.`);
  if (mount.rig_id !== rigId) {
    throw new Refusal(
      `Mount ${mount.number} of ${specimen.name} stands on ${mount.rig}, but this run was logged on ${rig.name}. Choose a mount on ${rig.name}, open a new one there, or change the rig to ${mount.rig}.`,
      409,
    );
  }
  return { study_id: studyId, mount_id: mount.id };
}

async function openStudy(client: Client, place: RunPlace): Promise<number> {
  const title = (place.study_title ?? '').trim();
  const id = await insertStudy(client, { title, question: '', margin_k: 1, reduction: {} });
  if (id === null) throw new Refusal(`There is already a study "${title}"; choose it from the list or take another title.`, 409);
  return id;
}

async function openSpecimen(client: Client, studyId: number, place: RunPlace): Promise<number> {
  const name = (place.specimen_name ?? '').trim();
  const id = await insertSpecimen(client, studyId, name, place.specimen_kind ?? 'paste');
  if (id === null) throw new Refusal(`The study already has a specimen "${name}"; choose it from the list.`, 409);
  return id;
}

async function openRig(client: Client, place: RunPlace): Promise<number> {
  const name = (place.rig_name ?? '').trim();
  const id = await insertRig(client, name, place.rig_limit_c ?? null);
  if (id === null) throw new Refusal(`There is already a rig "${name}"; choose it from the list.`, 409);
  return id;
}
