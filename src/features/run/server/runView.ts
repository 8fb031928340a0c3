import { isDeepStrictEqual } from 'node:util';
import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { Finding } from '#core/compare/types';
import { listRunFiles } from '#features/run/store/logFiles';
import { findRunByFile, getRun, hasRuns, listFindings, listRuns, type PlacedRun } from '#features/run/store/runs';
import { binnedByFile } from '#features/study/store/bin';
import { getStudy, listMounts, type MountRow } from '#features/study/store/studies';
import { type JudgementView, judgementView } from './judge';
import { intactPieces } from './keptFile';
import { type ProgramResultsView, resultsOf } from './programResults';

interface RunView {
  run: PlacedRun;
  findings: Finding[];
  /** all runs of the same mount, this one among them */
  mates: PlacedRun[];
  judgement: JudgementView;
  programs: ProgramResultsView[];
  /** other runs of the study and load that wait for the same decision */
  same: number;
  /** further runs of the study, those of the same specimen first, with where their load begins */
  others: { id: number; name: string; load_start_s: number }[];
}

/** One run with its findings, its mount's other runs and its study. */
export async function runView(id: number): Promise<RunView> {
  const db = database();
  const run = await getRun(db, id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  const [findings, siblings] = await Promise.all([listFindings(db, id), listRuns(db, run.study_id)]);
  const near = (r: PlacedRun) => (r.mount_id === run.mount_id ? 0 : r.specimen_id === run.specimen_id ? 1 : 2);
  return {
    ...{ run, findings, mates: siblings.filter((s) => s.mount_id === run.mount_id) },
    judgement: await judgementView(id),
    programs: await resultsOf(id),
    same: siblings.filter(
      (s) =>
        s.id !== id &&
        s.load === run.load &&
        s.judged !== 'excluded' &&
        isDeepStrictEqual(s.result.decision ?? [], run.result.decision ?? []),
    ).length,
    others: siblings
      .filter((s) => s.id !== id && s.result.rise_k !== null && s.typed === null)
      .sort((a, b) => near(a) - near(b))
      .map((s) => ({
        id: s.id,
        name: `${s.specimen}, mount ${s.mount}, run ${s.number}`,
        load_start_s: s.result.stages.find((t) => t.stage === 'boost' || t.stage === 'sustained')?.start_s ?? 0,
      })),
  };
}

/** Mounts and runs of a study. */
export async function studyRuns(id: number): Promise<{ mounts: MountRow[]; runs: PlacedRun[] }> {
  const [mounts, runs] = await Promise.all([listMounts(database(), id), listRuns(database(), id)]);
  return { mounts, runs };
}

/** Whether a study has a run yet. */
export async function studyHasRuns(id: number): Promise<boolean> {
  if (!(await getStudy(database(), id))) throw new Refusal(`There is no study ${id}.`, 404);
  return hasRuns(database(), id);
}

/** An original file of a run, byte for byte, a piece at a time. */
export async function originalFile(
  runId: number,
  position: number,
): Promise<{ name: string; size: number; pieces: AsyncIterable<Buffer> }> {
  const file = (await listRunFiles(database(), runId)).find((f) => f.position === position);
  if (!file) throw new Refusal('The run has no such file.', 404);
  return { name: file.name, size: file.size, pieces: intactPieces(database(), file) };
}

/** A run in words, for sentences about it. */
export const describeRun = (run: PlacedRun): string => `run ${run.number} of ${run.specimen}, mount ${run.mount}, in "${run.study}"`;

/** The run that rests on a file, by the SHA-256 of its bytes in hexadecimal; one in the bin by its entry there. */
export async function runOfFile(sha: string): Promise<{ run_id: number | null; run: string; bin?: number } | null> {
  if (!/^[0-9a-f]{64}$/.test(sha)) throw new Refusal('A SHA-256 has 64 hexadecimal digits.');
  const run = await findRunByFile(database(), Buffer.from(sha, 'hex'));
  if (run) return { run_id: run.id, run: describeRun(run) };
  const binned = await binnedByFile(database(), Buffer.from(sha, 'hex'));
  return binned && { run_id: null, run: binned.title, bin: binned.bin };
}
