import type { Client } from '#app/database/pool';
import type { Face, ImprintFigures, ImprintReading } from '#features/mount/model/imprint';

/** A photograph without its picture. */
export interface PhotographRow {
  id: number;
  /** null where it shows a rig's take-apart step */
  mount_id: number | null;
  rig_id: number | null;
  taken_at: Date;
  who: string;
  caption: string;
  width: number;
  height: number;
  face: Face | null;
  reading: ImprintReading | null;
  figures: ImprintFigures | null;
  removed_at: Date | null;
}

const COLUMNS = 'p.id, p.mount_id, p.rig_id, p.taken_at, p.who, p.caption, p.width, p.height, p.face, p.reading, p.figures, p.removed_at';

export async function listPhotographs(db: Client, mountId: number): Promise<PhotographRow[]> {
  const { rows } = await db.query<PhotographRow>(`select ${COLUMNS} from photographs p where p.mount_id = $1 order by p.id`, [mountId]);
  return rows;
}

export interface StudyPrint extends PhotographRow {
  mount_id: number;
  specimen_id: number;
  specimen: string;
  position: number;
  mount_number: number;
  /** mean of the mount's valid runs, K */
  rise_k: number | null;
}

/** Prints of a study's mounts, by specimen and mount. */
export async function listStudyPrints(db: Client, studyId: number): Promise<StudyPrint[]> {
  const { rows } = await db.query<StudyPrint>(
    `select ${COLUMNS}, m.specimen_id, s.name as specimen, s.position, m.number as mount_number,
            (select avg(r.rise_k) from runs r where r.mount_id = m.id and r.valid and r.judged <> 'excluded') as rise_k
     from photographs p join mounts m on m.id = p.mount_id join specimens s on s.id = m.specimen_id
     where s.study_id = $1 and p.face is not null and p.removed_at is null order by s.position, m.number, p.face desc, p.id`,
    [studyId],
  );
  return rows;
}

export interface NewPhotograph {
  /** one of the two */
  mount_id: number | null;
  rig_id: number | null;
  who: string;
  caption: string;
  jpeg: Buffer;
  width: number;
  height: number;
  print: { face: Face; reading: ImprintReading; figures: ImprintFigures; view_jpeg: Buffer } | null;
}

export async function insertPhotograph(db: Client, p: NewPhotograph): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into photographs (mount_id, rig_id, who, caption, jpeg, width, height, face, reading, figures, view_jpeg)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) returning id`,
    [
      ...[p.mount_id, p.rig_id, p.who, p.caption, p.jpeg, p.width, p.height],
      ...[p.print?.face ?? null, p.print?.reading ?? null, p.print?.figures ?? null, p.print?.view_jpeg ?? null],
    ],
  );
  return rows[0].id;
}

/** Writes how a print is read anew, and what it shows then. */
export async function updatePrint(db: Client, id: number, print: NonNullable<NewPhotograph['print']>): Promise<void> {
  await db.query('update photographs set face = $2, reading = $3, figures = $4, view_jpeg = $5 where id = $1', [
    id,
    print.face,
    print.reading,
    print.figures,
    print.view_jpeg,
  ]);
}

export async function photographOf(db: Client, id: number): Promise<PhotographRow | null> {
  const { rows } = await db.query<PhotographRow>(`select ${COLUMNS} from photographs p where p.id = $1`, [id]);
  return rows[0] ?? null;
}

/** Photographs of a mount, or of a rig's take-apart list. */
export async function countPhotographs(db: Client, of: { mount_id: number } | { rig_id: number }): Promise<number> {
  const [sql, id] =
    'mount_id' in of
      ? (['select count(*) as n from photographs where mount_id = $1', of.mount_id] as const)
      : (['select count(*) as n from photographs where rig_id = $1', of.rig_id] as const);
  const { rows } = await db.query<{ n: number }>(sql, [id]);
  return rows[0].n;
}

/** The picture itself, or the part in it seen straight from above. */
export async function readPicture(db: Client, id: number, what: 'photograph' | 'view'): Promise<Buffer | null> {
  const { rows } = await db.query<{ picture: Buffer | null }>(
    what === 'view'
      ? 'select view_jpeg as picture from photographs where id = $1'
      : 'select jpeg as picture from photographs where id = $1',
    [id],
  );
  return rows[0]?.picture ?? null;
}

/** Takes a photograph out of its mount's record, or puts it back. */
export async function setRemoved(db: Client, id: number, removed: boolean): Promise<void> {
  await db.query('update photographs set removed_at = case when $2 then now() end where id = $1', [id, removed]);
}
