import type { Client } from '#app/database/pool';
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
export async function listSoundClips(db: Client, studyId: number): Promise<SoundClipRow[]> {
  const { rows } = await db.query<SoundClipRow>(
    `select c.id, sp.name as specimen, sp.position, c.name, c.rpm, c.level_db, c.note, c.removed_at
     from sound_clips c join specimens sp on sp.id = c.specimen_id where sp.study_id = $1 order by sp.position, c.rpm nulls last, c.id`,
    [studyId],
  );
  return rows;
}

/** @returns null where there is no such specimen, 'full' where it has as many as it may hold */
export async function insertSoundClip(
  db: Client,
  clip: { specimen_id: number; name: string; kind: ClipKind; rpm: number | null; level_db: number | null; note: string; bytes: Uint8Array },
  most: number,
): Promise<number | null | 'full'> {
  const { rows: found } = await db.query('select from specimens where id = $1 for update', [clip.specimen_id]);
  if (found.length === 0) return null;
  const { rows: held } = await db.query<{ n: number }>(
    'select count(*)::int as n from sound_clips where specimen_id = $1 and removed_at is null',
    [clip.specimen_id],
  );
  if (held[0].n >= most) return 'full';
  const { rows } = await db.query<{ id: number }>(
    'insert into sound_clips (specimen_id, name, kind, rpm, level_db, note, bytes) values ($1, $2, $3, $4, $5, $6, $7) returning id',
    [clip.specimen_id, clip.name, clip.kind, clip.rpm, clip.level_db, clip.note, Buffer.from(clip.bytes)],
  );
  return rows[0].id;
}

export async function readSoundClip(db: Client, id: number): Promise<{ kind: ClipKind; bytes: Buffer } | null> {
  const { rows } = await db.query<{ kind: ClipKind; bytes: Buffer }>('select kind, bytes from sound_clips where id = $1', [id]);
  return rows[0] ?? null;
}

export async function setClipRemoved(db: Client, id: number, removed: boolean): Promise<boolean> {
  const { rowCount } = await db.query('update sound_clips set removed_at = case when $2 then now() end where id = $1', [id, removed]);
  return rowCount === 1;
}
