import type { Client } from '#app/database/pool';
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

export async function listOpenings(db: Client, mountId: number): Promise<OpeningRow[]> {
  const { rows } = await db.query<OpeningRow>('select * from mount_openings where mount_id = $1 order by opened_at, id', [mountId]);
  return rows;
}

/** An opening with its mount, and the photographs that lie with it. */
export interface StudyOpening extends OpeningRow {
  specimen: string;
  mount: number;
  photographs: number[];
}

/** Openings of a study's mounts, by specimen and mount. */
export async function listStudyOpenings(db: Client, studyId: number): Promise<StudyOpening[]> {
  const { rows } = await db.query<StudyOpening>(
    `select o.*, s.name as specimen, m.number as mount,
            array(select p.id from photographs p where p.mount_id = m.id and p.removed_at is null order by p.id) as photographs
     from mount_openings o join mounts m on m.id = o.mount_id join specimens s on s.id = m.specimen_id
     where s.study_id = $1 and o.removed_at is null order by s.position, m.number, o.opened_at`,
    [studyId],
  );
  return rows;
}

export async function insertOpening(db: Client, opening: { mount_id: number; found: Found[]; note: string; who: string }): Promise<void> {
  await db.query('insert into mount_openings (mount_id, found, note, who) values ($1, $2, $3, $4)', [
    opening.mount_id,
    opening.found,
    opening.note,
    opening.who,
  ]);
}

/** Takes an opening out of the record, or puts it back. */
export async function setOpeningRemoved(db: Client, mountId: number, id: number, removed: boolean): Promise<boolean> {
  const { rowCount } = await db.query(
    'update mount_openings set removed_at = case when $3 then now() end where id = $2 and mount_id = $1',
    [mountId, id, removed],
  );
  return rowCount === 1;
}
