import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { refuseUnseen } from '#app/seen';
import { lockRun } from '#features/run/store/judgements';
import { getRun, setLoad } from '#features/run/store/runs';
import { getStudy } from '#features/study/store/studies';

/** Says under which of its study's loads a run was made. */
export const changeLoad = (runId: number, given: Record<string, unknown>): Promise<{ load: string | null }> =>
  transaction(async (client) => {
    await lockRun(client, runId);
    const run = await getRun(client, runId);
    if (!run) throw new Refusal(`There is no run ${runId}.`, 404);
    const loads = ((await getStudy(client, run.study_id))?.plan.loads ?? []).map((l) => l.name);
    const load = given.load === null ? null : String(given.load ?? '');
    if (load !== null && !loads.includes(load)) throw new Refusal(`The study has no load "${load}"; it has ${loads.join(', ') || 'none'}.`);
    refuseUnseen(given, run.load, `Somebody else put this run under the load ${run.load ?? 'of the study'} meanwhile.`);
    await setLoad(client, runId, load);
    return { load };
  });
