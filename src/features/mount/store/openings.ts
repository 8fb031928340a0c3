import type { Client } from '#app/database/pool';
import { execute, many, touches } from '#app/database/query';
import type { Found } from '#features/mount/model/opening';

export interface OpeningRow {
  id: number;
  mount_id: number;
  found: Found[];
  note: string;
  who: string;
  opened_at: Date;
  removed_at: Date | null;
}

/** Openings of a mount, in their order. */
export const listOpenings = (db: Client, mountId: number) =>
  many<OpeningRow>(db)`select * from mount_openings where mount_id = ${mountId} order by opened_at, id`;

/** An opening with its mount, and the photographs that lie with it. */
export interface StudyOpening extends OpeningRow {
  specimen: string;
  mount: number;
  photographs: number[];
}

/** Openings of a study's mounts, by specimen and mount. */
export const listStudyOpenings = (db: Client, studyId: number) => many<StudyOpening>(db)`
  select o.*, m.specimen, m.mount,
         array(select p.id from photographs p where p.mount_id = o.mount_id and p.removed_at is null order by p.id) as photographs
  from mount_openings o join placed_mounts m using (mount_id)
  where m.study_id = ${studyId} and o.removed_at is null order by m.specimen_position, m.mount, o.opened_at`;

/** Notes that a mount was opened, and what was found. */
export const insertOpening = (db: Client, opening: { mount_id: number; found: Found[]; note: string; who: string }) =>
  execute(db)`
    insert into mount_openings (mount_id, found, note, who) values (${opening.mount_id}, ${opening.found}, ${opening.note},
    ${opening.who})`;

/** Takes an opening out of the record, or puts it back. */
export const setOpeningRemoved = (db: Client, mountId: number, id: number, removed: boolean) =>
  touches(db)`update mount_openings set removed_at = case when ${removed} then now() end where id = ${id} and mount_id = ${mountId}`;
