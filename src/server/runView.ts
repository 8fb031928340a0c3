import { isDeepStrictEqual } from 'node:util';
import type { Finding } from '#core/compare/types';
import { listRunFiles, readPieces } from '#db/logFiles';
import { database } from '#db/pool';
import { findRunByFile, getRun, listFindings, listRuns, type PlacedRun } from '#db/runs';
import { listMounts, type MountRow } from '#db/studies';
import { Refusal } from './refusal';
import { type StudyResults, studyResults } from './results/studyResults';
import { type JudgementView, judgementView } from './run/judge';
import { type ResultsView, resultsOf } from './run/results';

export interface RunView {
  run: PlacedRun;
  findings: Finding[];
  results: StudyResults;
  /** all runs of the same mount, this one among them */
  mates: PlacedRun[];
  judgement: JudgementView;
  programs: ResultsView[];
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
  const [findings, results, siblings] = await Promise.all([listFindings(db, id), studyResults(run.study_id), listRuns(db, run.study_id)]);
  const near = (r: PlacedRun) => (r.mount_id === run.mount_id ? 0 : r.specimen_id === run.specimen_id ? 1 : 2);
  return {
    ...{ run, findings, results, mates: siblings.filter((s) => s.mount_id === run.mount_id) },
    judgement: await judgementView(id),
    programs: await resultsOf(id),
    same: siblings.filter(
      (s) => s.id !== id && s.load === run.load && s.judged !== 'excluded' && isDeepStrictEqual(s.result.decision ?? [], run.result.decision ?? []),
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

/** Mounts and runs of a study beside its comparison. */
export async function studyRuns(id: number): Promise<{ results: StudyResults; mounts: MountRow[]; runs: PlacedRun[] }> {
  const results = await studyResults(id);
  const [mounts, runs] = await Promise.all([listMounts(database(), id), listRuns(database(), id)]);
  return { results, mounts, runs };
}

/** An original file of a run, byte for byte, a piece at a time. */
export async function originalFile(runId: number, position: number): Promise<{ name: string; size: number; pieces: AsyncIterable<Buffer> }> {
  const file = (await listRunFiles(database(), runId)).find((f) => f.position === position);
  if (!file) throw new Refusal('The run has no such file.', 404);
  return { name: file.name, size: file.size, pieces: readPieces(database(), file.file_id) };
}

/** A run in words, for sentences about it. */
export function describeRun(run: PlacedRun): string {
  return `run ${run.number} of ${run.specimen}, mount ${run.mount}, in "${run.study}"`;
}

/** The run that rests on a file, by the SHA-256 of its bytes in hexadecimal. */
export async function runOfFile(sha: string): Promise<{ run_id: number; run: string } | null> {
  if (!/^[0-9a-f]{64}$/.test(sha)) throw new Refusal('A SHA-256 has 64 hexadecimal digits.');
  const run = await findRunByFile(database(), Buffer.from(sha, 'hex'));
  return run && { run_id: run.id, run: describeRun(run) };
}
