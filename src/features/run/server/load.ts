import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { getRun, setLoad } from '#features/run/store/runs';
import { getStudy } from '#features/study/store/studies';

/** Says under which of its study's loads a run was made. */
export async function changeLoad(runId: number, given: Record<string, unknown>): Promise<{ load: string | null }> {
  const db = database();
  const run = await getRun(db, runId);
  if (!run) throw new Refusal(`There is no run ${runId}.`, 404);
  const loads = ((await getStudy(db, run.study_id))?.plan.loads ?? []).map((l) => l.name);
  const load = given.load === null ? null : String(given.load ?? '');
  if (load !== null && !loads.includes(load)) throw new Refusal(`The study has no load "${load}"; it has ${loads.join(', ') || 'none'}.`);
  await setLoad(db, runId, load);
  return { load };
}
