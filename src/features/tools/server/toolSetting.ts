import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { RecordKey } from '#features/mount/model/stepTypes';
import { getMountSetting, listAttempts } from '#features/mount/store/attempts';
import type { MaterialSheet } from '#features/shelf/model/sheets';
import { mountsPerPack } from '#features/shelf/model/stock';
import { takenBy } from '#features/shelf/server/sheets';
import { listConductors, listSheets } from '#features/shelf/store/sheets';
import { type SheetUse, sheetUses } from '#features/shelf/store/uses';

export interface ToolMaterial {
  id: number;
  name: string;
  sheet: MaterialSheet;
  /** mounts one pack serves by its sheet; null where it does not tell */
  per_pack: number | null;
  /** mounts that were made with it so far */
  used: number;
}

/** What a tool starts from: where it was opened from a mount, that mount's material and part. */
export interface ToolSetting {
  mount: {
    id: number;
    name: string;
    material: string | null;
    length_mm: number | null;
    width_mm: number | null;
    contact: string | null;
    torque_nm: number | null;
    screws: string | null;
    /** as the rig's sheet tells them */
    screw_positions: string | null;
    torque_max_nm: number | null;
    /** heights that were written down in its last try */
    heights: string | null;
    heights_after: string | null;
  } | null;
}

/** The materials of the shelf, with what is left of each. */
export async function toolMaterials(): Promise<ToolMaterial[]> {
  const db = database();
  const used = new Map<number, SheetUse[]>();
  for (const u of await sheetUses(db, 'materials')) used.set(u.sheet_id, [...(used.get(u.sheet_id) ?? []), u]);
  return (await listSheets(db, 'materials'))
    .filter((m) => !m.archived)
    .map(({ id, name, sheet }) => ({
      id,
      name,
      sheet,
      per_pack: mountsPerPack(sheet),
      used: takenBy(sheet, used.get(id) ?? []),
    }));
}

/** The materials of the shelf through which heat can be reckoned, by their names. */
export const layerMaterials = () => listConductors(database());

/** @param mount number of the mount a tool was opened from, as its address says; null where it stands alone */
export async function toolSetting(mount: string | null): Promise<ToolSetting> {
  if (mount === null) return { mount: null };
  const db = database();
  const row = /^[1-9]\d{0,14}$/.test(mount) ? await getMountSetting(db, Number(mount)) : null;
  if (!row) throw new Refusal(`There is no mount ${mount}.`, 404);
  const { contact_length_mm, contact_width_mm, contact, screw_positions, torque_max_nm } = row.rig_sheet;
  const steps = (await listAttempts(db, row.id)).at(-1)?.steps ?? {};
  const written = (key: RecordKey) => Object.values(steps).flatMap((s) => s?.records?.[key] ?? [])[0];
  return {
    mount: {
      ...{ id: row.id, name: `${row.specimen}, mount ${row.number}`, material: row.material?.name ?? null },
      ...{ length_mm: contact_length_mm ?? null, width_mm: contact_width_mm ?? null, contact: contact ?? null },
      ...{ torque_nm: row.cooler?.sheet.torque_nm ?? null, screws: row.cooler?.sheet.screws ?? null },
      ...{ screw_positions: screw_positions ?? null, torque_max_nm: torque_max_nm ?? null },
      ...{ heights: written('heights')?.toString() ?? null, heights_after: written('heights_after')?.toString() ?? null },
    },
  };
}
