import type { Client } from '#app/database/pool';
import { varianceComponents } from '#core/compare/scatter';
import { SPECIMEN_KINDS } from '#features/shelf/model/materials';
import type { LabHistory } from '#features/study/model/context';
import { listScatterRuns, runsVersion } from '#features/study/store/plans';

/** Runs looked back at: the scatter of a lab is that of its later work. */
const MOST_RUNS = 5000;

let kept: { version: string; history: LabHistory[] } | null = null;

/** Scatter between mounts and between runs by interface kind, from the newest valid runs of this lab; told again where a run changed. */
export async function labHistory(db: Client): Promise<LabHistory[]> {
  // the version is asked before the runs: what comes in between is told the next time
  const version = await runsVersion(db);
  if (kept?.version !== version) kept = { version, history: historyOf(await listScatterRuns(db, MOST_RUNS)) };
  return kept.history;
}

function historyOf(runs: Awaited<ReturnType<typeof listScatterRuns>>): LabHistory[] {
  return SPECIMEN_KINDS.flatMap((kind) => {
    const own = runs.filter((r) => r.kind === kind);
    const parts = own.length === 0 ? null : varianceComponents(own);
    // a scatter of nothing is a lack of figures, not a steady hand
    if (!parts || parts.singular) return [];
    const mounts = new Set(own.map((r) => r.mount)).size;
    const df = mounts - new Set(own.map((r) => r.specimen)).size;
    return [{ kind, mount_sd: parts.mount_sd, run_sd: parts.run_sd, mounts, df }];
  });
}
