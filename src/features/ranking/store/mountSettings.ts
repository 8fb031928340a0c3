import type { Client } from '#app/database/pool';
import { many } from '#app/database/query';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { RigSheet } from '#features/shelf/model/sheets';

/** What stood where when a mount was made. */
export interface MountSettingRow {
  mount_id: number;
  specimen: string;
  kind: string;
  material_id: number | null;
  material: string | null;
  /** the specimen's own, else the one its rig is fitted with */
  cooler_id: number | null;
  cooler: string | null;
  rig_id: number;
  rig: string;
  sheet: RigSheet;
  parts: RigPart[];
  /** as it was noted at its last try that notes one; empty where none does */
  lot: string;
}

/** Rig, cooler, material and lot of every mount of a study. */
export const listMountSettings = (db: Client, studyId: number) =>
  many<MountSettingRow>(db)`
    select m.id as mount_id, s.name as specimen, s.kind, s.material_id, t.name as material, c.id as cooler_id, c.name as cooler,
           g.id as rig_id, g.name as rig, g.sheet, g.parts,
           coalesce((select a.lots from mount_attempts a where a.mount_id = m.id and a.lots <> '' order by a.number desc limit 1), '') as lot
    from mounts m join specimens s on s.id = m.specimen_id join rigs g on g.id = m.rig_id
    left join materials t on t.id = s.material_id
    left join coolers c on c.id = coalesce(s.cooler_id, (g.sheet ->> 'cooler_id')::bigint)
    where s.study_id = ${studyId} order by s.position, m.number`;
