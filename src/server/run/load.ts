import { database } from '#db/pool';
import { getRun, setLoad } from '#db/runs';
import { getStudy } from '#db/studies';
import { Refusal } from '../refusal';

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
