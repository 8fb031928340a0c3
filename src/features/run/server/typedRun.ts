import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { reduceTyped } from '#core/signal/reduce/typed';
import { TypedRun, typedProblem, typedReadings } from '#features/run/model/typedRun';
import { getRunByImport, insertFindings, insertRun, lockImport, reserveRun, setTyped } from '#features/run/store/runs';
import { check } from '#rules/validation';
import { type ImportedRun, reductionOptions } from './importRun';
import { findPlace } from './place';

/** Stores a run whose values were read from a display. Repeating it with the same id gives the same run again. */
export async function storeTyped(given: Record<string, unknown>): Promise<ImportedRun> {
  const { import_id, place, texts, throttled = 'unknown', read_at } = check(TypedRun, given);
  const readings = typedReadings(texts);
  const problem = typedProblem(readings);
  if (problem) throw new Refusal(problem);
  return transaction(async (client) => {
    await lockImport(client, import_id);
    const stored = await getRunByImport(client, import_id);
    if (stored) return { run_id: stored.id, study_id: stored.study_id, repeated: true };
    const options = await reductionOptions(client, { place });
    const { findings, ...result } = reduceTyped(readings, throttled === 'unknown' ? null : throttled === 'yes', options);
    const { study_id, mount_id } = await findPlace(client, place);
    const id = await reserveRun(client);
    const started_at = read_at ? new Date(read_at) : new Date();
    await insertRun(client, {
      ...{ id, import_id, mount_id, started_at },
      started_zoned: true,
      load: place.load ?? null,
      reading: {},
      options,
      result,
    });
    await setTyped(client, id, { texts, throttled });
    await insertFindings(client, id, findings);
    return { run_id: id, study_id, repeated: false };
  });
}
