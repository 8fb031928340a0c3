import { type Client, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { ReduceOptions } from '#core/signal/reduce/types';
import type { RunPlace } from '#features/run/model/importPlan';
import { type TypedRow, TypedTable } from '#features/run/model/typedTable';
import { getRunByImport, lockImport } from '#features/run/store/runs';
import { listRigs } from '#features/shelf/store/rigs';
import { insertNewStudy } from '#features/study/server/newStudy';
import { getStudy, listMounts, listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { firstPlan } from './firstPlan';
import { reductionOptions } from './importRun';
import { changeStudy, insertTyped } from './typedRun';

interface StoredTable {
  study_id: number;
  runs: number;
  /** mounts, specimens and rigs that were not there before */
  mounts: number;
}

/** Stores a table of readings, all rows or none; rows that were stored before are passed over. */
export async function storeTable(given: Record<string, unknown>): Promise<StoredTable> {
  const table = check(TypedTable, given);
  const stored = await transaction(async (client) => {
    const study_id = await studyOf(client, table);
    const before = (await listMounts(client, study_id)).length;
    const runs: number[] = [];
    // a mount that a row opened is that of the later rows with the same number
    const opened = new Map<string, number>();
    const reductions = new Map<string, Partial<ReduceOptions>>();
    for (const [i, row] of table.rows.entries()) {
      await storeRow(client, { table, row, study_id, opened, reductions })
        .then((id) => {
          if (id !== null) runs.push(id);
        })
        .catch((error) => {
          throw error instanceof Refusal ? new Refusal(`Row ${i + 1}: ${error.message}`, error.status, { field: `rows.${i}` }) : error;
        });
    }
    return { study_id, runs, mounts: (await listMounts(client, study_id)).length - before };
  });
  const change = { ...(table.study_id ? {} : await firstPlan(stored.study_id, table.kind, table.rows)), ...table.study };
  if (stored.runs.length > 0 && Object.keys(change).length > 0) await changeStudy(stored.study_id, change, stored.runs);
  return { ...stored, runs: stored.runs.length };
}

interface RowPlace {
  table: TypedTable;
  row: TypedRow;
  study_id: number;
  opened: Map<string, number>;
  /** how runs are reduced, by rig, specimen and load */
  reductions: Map<string, Partial<ReduceOptions>>;
}

/** Stores one row and gives its run; null where it was stored before. */
async function storeRow(client: Client, { table, row, study_id, opened, reductions }: RowPlace): Promise<number | null> {
  const { import_id, specimen, mount, rig, load, read_at, ...values } = row;
  const loads = (await getStudy(client, study_id))?.plan.loads ?? [];
  if (load?.trim() && table.study_id && !loads.some((l) => l.name === load.trim()))
    throw new Refusal(
      loads.length > 0
        ? `the study has no load ${load.trim()}; it has ${loads.map((l) => l.name).join(', ')}.`
        : `the study names no loads; name ${load.trim()} in its plan first, or leave the load empty.`,
    );
  await lockImport(client, import_id);
  if (await getRunByImport(client, import_id)) return null;
  const specimen_name = specimen.trim();
  const known = (await listSpecimens(client, study_id)).find((s) => s.name === specimen_name);
  const rig_name = (rig ?? '').trim() || (table.rig ?? '').trim();
  if (rig_name === '') throw new Refusal('say on which rig or device it was measured, in its row or for the whole table.');
  const stands = (await listRigs(client)).find((r) => r.name === rig_name);
  const label = `${rig_name}\n${specimen_name}\n${mount ?? 1}`;
  const mounts = known ? (await listMounts(client, study_id)).filter((m) => m.specimen_id === known.id) : [];
  // a number counts on its own rig: two devices may both call their mount the first
  const onRig = mounts.filter((m) => m.rig === rig_name);
  const isSpread = onRig.length < mounts.length;
  const numbered = isSpread ? onRig[(mount ?? 1) - 1] : onRig.find((m) => m.number === (mount ?? 1));
  const mount_id = opened.get(label) ?? numbered?.id;
  const place = {
    ...{ study_id, specimen_name, specimen_kind: table.kind ?? 'paste', specimen_id: known?.id ?? null },
    ...{ rig_id: stands?.id ?? null, rig_name, mount_id: mount_id ?? null, load: load?.trim() || null },
  } as RunPlace;
  const key = `${rig_name}\n${specimen_name}\n${place.load}`;
  // those of the first row are made before its rig and specimen are there, and stand for that row alone
  const options = reductions.get(key) ?? (await reductionOptions(client, { place }));
  if (known && stands) reductions.set(key, options);
  const stored = await insertTyped(client, { import_id, place, read_at: read_at ?? null, options, values });
  opened.set(label, stored.mount_id);
  return stored.run_id;
}

async function studyOf(client: Client, { study_id, study_title }: TypedTable): Promise<number> {
  if (study_id) {
    if (!(await getStudy(client, study_id))) throw new Refusal('The study no longer exists; choose another or start a new one.', 404);
    return study_id;
  }
  const title = (study_title ?? '').trim();
  const id = await insertNewStudy(client, { title });
  if (id === null) throw new Refusal(`There is already a study "${title}"; choose it from the list or enter another title.`, 409);
  return id;
}
