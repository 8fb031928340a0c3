import type { Client } from '#app/database/pool';
import { first, many, only, touches } from '#app/database/query';
import type { ClipKind } from '#features/results/model/coolers/clip';

/** A clip without its bytes. */
export interface SoundClipRow {
  id: number;
  specimen: string;
  position: number;
  name: string;
  rpm: number | null;
  level_db: number | null;
  note: string;
  removed_at: Date | null;
}

/** Clips of a study's specimens, in their order, then by speed. */
export const listSoundClips = (db: Client, studyId: number) => many<SoundClipRow>(db)`
  select c.id, sp.name as specimen, sp.position, c.name, c.rpm, c.level_db, c.note, c.removed_at
  from sound_clips c join specimens sp on sp.id = c.specimen_id where sp.study_id = ${studyId} order by sp.position, c.rpm nulls last,
    c.id`;

/** @returns null where there is no such specimen, 'full' where it has as many as it may hold */
export async function insertSoundClip(
  db: Client,
  clip: { specimen_id: number; name: string; kind: ClipKind; rpm: number | null; level_db: number | null; note: string; bytes: Uint8Array },
  most: number,
): Promise<number | null | 'full'> {
  if (!(await touches(db)`select from specimens where id = ${clip.specimen_id} for update`)) return null;
  const { n } = await only<{ n: number }>(db)`
    select count(*)::int as n from sound_clips where specimen_id = ${clip.specimen_id} and removed_at is null`;
  if (n >= most) return 'full';
  const { id } = await only<{ id: number }>(db)`
    insert into sound_clips (specimen_id, name, kind, rpm, level_db, note, bytes)
    values (${clip.specimen_id}, ${clip.name}, ${clip.kind}, ${clip.rpm}, ${clip.level_db}, ${clip.note}, ${Buffer.from(clip.bytes)})
    returning id`;
  return id;
}

/** The bytes of a clip and what they are; null where there is none. */
export const readSoundClip = (db: Client, id: number) =>
  first<{ kind: ClipKind; bytes: Buffer; intact: boolean }>(db)`
    select kind, bytes, sha256(bytes) = sha256 as intact from sound_clips where id = ${id}`;

/** Takes a clip out of the comparison, or puts it back; false where there is none. */
export const setClipRemoved = (db: Client, id: number, removed: boolean) =>
  touches(db)`update sound_clips set removed_at = case when ${removed} then now() end where id = ${id}`;
