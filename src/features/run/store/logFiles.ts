import type { Client } from '#app/database/pool';
import { execute, many, only, touches } from '#app/database/query';

/** Numbers a file that is about to be kept piece by piece; its row follows when its hash is known. */
export const reserveLogFile = async (db: Client) =>
  (await only<{ id: number }>(db)`select nextval(pg_get_serial_sequence('log_files', 'id'))::bigint as id`).id;

/** Stores one piece of a file. */
export const insertPiece = (db: Client, fileId: number, piece: number, bytes: Buffer) =>
  execute(db)`insert into log_file_pieces (file_id, piece, bytes) values (${fileId}, ${piece}, ${bytes})`;

/** Keeps an original file whose pieces are there, byte for byte; a file that was kept before is kept once. */
export async function insertLogFile(db: Client, fileId: number, sha256: Buffer, name: string): Promise<void> {
  const fresh = await touches(db)`
    insert into log_files (id, sha256, name) overriding system value values (${fileId}, ${sha256}, ${name}) on conflict (sha256) do nothing`;
  if (!fresh) await execute(db)`delete from log_file_pieces where file_id = ${fileId}`;
}

/** Notes that a run was read from a file. */
export const linkRunFile = (db: Client, runId: number, position: number, sha256: Buffer, name: string) =>
  execute(db)`insert into run_files (run_id, position, sha256, name) values (${runId}, ${position}, ${sha256}, ${name})`;

/** A kept file of a run, without its bytes. */
export interface KeptFile {
  position: number;
  name: string;
  file_id: number;
  /** of the bytes as they came */
  sha256: Buffer;
  size: number;
}

/** The files of a run in their order, without their bytes. */
export const listRunFiles = (db: Client, runId: number) => many<KeptFile>(db)`
  select r.position, r.name, f.id as file_id, f.sha256, (select coalesce(sum(length(p.bytes)), 0) from log_file_pieces p where p.file_id =
  f.id)::bigint as size
   from run_files r join log_files f on f.sha256 = r.sha256 where r.run_id = ${runId} order by r.position`;

/** Bytes of a kept file, a piece at a time. */
export async function* readPieces(db: Client, fileId: number): AsyncGenerator<Buffer> {
  for (let piece = 0; ; piece++) {
    const rows = await many<{ bytes: Buffer }>(db)`select bytes from log_file_pieces where file_id = ${fileId} and piece = ${piece}`;
    if (rows.length === 0) return;
    yield rows[0].bytes;
  }
}
