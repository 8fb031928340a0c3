import { insertChange } from '#app/database/changes';
import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { lockRun, updateReading } from '#features/run/store/judgements';
import { getRun } from '#features/run/store/runs';
import { partSensors } from './importRun';
import { judgedFigures } from './judge';
import { readAnew } from './readAnew';

/**
 * Reads the kept logs of a run again for the parts that its plan and rig name now; how it is read otherwise stays. A run that was typed has
 * no log, and stays as it is.
 */
export async function readAgain(id: number): Promise<{ parts: string[] }> {
  const db = database();
  const run = await getRun(db, id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  if (run.typed) return { parts: [] };
  const options = { ...(run.options as Partial<ReduceOptions>), part_sensors: await partSensors(db, run.study_id, run.rig_id) };
  const { findings, ...result } = await readAnew(run, run.reading as LogOptions, options);
  await transaction(async (client) => {
    await lockRun(client, id);
    const now = await getRun(client, id);
    if (!now) throw new Refusal(`There is no run ${id}.`, 404);
    await updateReading(client, id, result, findings, { reading: now.reading, options }, now.automatic);
    await insertChange(client, {
      ...{ subject: 'run', subject_id: id, action: 'reread', who: '', reason: 'The parts named by the plan or the rig have changed.' },
      before: judgedFigures(now),
      after: judgedFigures({ result }),
    });
  });
  return { parts: (result.parts ?? []).map((p) => p.name) };
}
