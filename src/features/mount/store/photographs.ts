import type { Client } from '#app/database/pool';
import { execute, first, many, only, sql } from '#app/database/query';
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

const COLUMNS = sql`
  p.id, p.mount_id, p.rig_id, p.taken_at, p.who, p.caption, p.width, p.height, p.face, p.reading, p.figures, p.removed_at`;

/** Photographs of a mount, removed ones among them. */
export const listPhotographs = (db: Client, mountId: number) =>
  many<PhotographRow>(db)`select ${COLUMNS} from photographs p where p.mount_id = ${mountId} order by p.id`;

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
export const listStudyPrints = (db: Client, studyId: number) => many<StudyPrint>(db)`
  select ${COLUMNS}, m.specimen_id, m.specimen, m.specimen_position as position, m.mount as mount_number,
         (select avg(r.rise_k) from runs r where r.mount_id = p.mount_id and r.valid and r.judged <> 'excluded') as rise_k
  from photographs p join placed_mounts m using (mount_id)
  where m.study_id = ${studyId} and p.face is not null and p.removed_at is null order by m.specimen_position, m.mount, p.face desc, p.id`;

export interface NewPhotograph extends Pick<PhotographRow, 'mount_id' | 'rig_id' | 'who' | 'caption' | 'width' | 'height'> {
  jpeg: Buffer;
  print: { face: Face; reading: ImprintReading; figures: ImprintFigures; view_jpeg: Buffer } | null;
}

/** Stores a photograph; gives its number. */
export const insertPhotograph = async (db: Client, p: NewPhotograph) =>
  (
    await only<{ id: number }>(db)`
      insert into photographs (mount_id, rig_id, who, caption, jpeg, width, height, face, reading, figures, view_jpeg)
      values (${p.mount_id}, ${p.rig_id}, ${p.who}, ${p.caption}, ${p.jpeg}, ${p.width}, ${p.height},
        ${p.print?.face ?? null}, ${p.print?.reading ?? null}, ${p.print?.figures ?? null}, ${p.print?.view_jpeg ?? null}) returning id`
  ).id;

/** Writes how a print is read anew, and what it shows then. */
export const updatePrint = (db: Client, id: number, print: NonNullable<NewPhotograph['print']>) =>
  execute(db)`
    update photographs set face = ${print.face}, reading = ${print.reading}, figures = ${print.figures}, view_jpeg = ${print.view_jpeg}
    where id = ${id}`;

/** A photograph without its bytes; null where there is none. */
export const photographOf = (db: Client, id: number) => first<PhotographRow>(db)`select ${COLUMNS} from photographs p where p.id = ${id}`;

/** Photographs of a mount, or of a rig's take-apart list. */
export async function countPhotographs(db: Client, of: { mount_id: number } | { rig_id: number }): Promise<number> {
  const whose = 'mount_id' in of ? sql`mount_id = ${of.mount_id}` : sql`rig_id = ${of.rig_id}`;
  return (await only<{ n: number }>(db)`select count(*) as n from photographs where ${whose}`).n;
}

/** The picture itself, or the part in it seen straight from above, and whether it is what was stored; null where there is none. */
export const readPicture = (db: Client, id: number, what: 'photograph' | 'view') =>
  what === 'view'
    ? first<Picture>(db)`
        select view_jpeg as picture, sha256(view_jpeg) = view_sha256 as intact from photographs where id = ${id} and view_jpeg is not null`
    : first<Picture>(db)`select jpeg as picture, sha256(jpeg) = sha256 as intact from photographs where id = ${id}`;

interface Picture {
  picture: Buffer;
  intact: boolean;
}

/** Takes a photograph out of its mount's record, or puts it back. */
export const setRemoved = (db: Client, id: number, removed: boolean) =>
  execute(db)`update photographs set removed_at = case when ${removed} then now() end where id = ${id}`;
