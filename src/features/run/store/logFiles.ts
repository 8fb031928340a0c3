import type { Client } from '#app/database/pool';

/** Numbers a file that is about to be kept piece by piece; its row follows when its hash is known. */
export async function reserveLogFile(db: Client): Promise<number> {
  const { rows } = await db.query<{ id: number }>(`select nextval(pg_get_serial_sequence('log_files', 'id'))::bigint as id`);
  return rows[0].id;
}

export async function insertPiece(db: Client, fileId: number, piece: number, bytes: Buffer): Promise<void> {
  await db.query('insert into log_file_pieces (file_id, piece, bytes) values ($1, $2, $3)', [fileId, piece, bytes]);
}

/** Keeps an original file whose pieces are there, byte for byte; a file that was kept before is kept once. */
export async function insertLogFile(db: Client, fileId: number, sha256: Buffer, name: string): Promise<void> {
  const { rowCount } = await db.query(
    'insert into log_files (id, sha256, name) overriding system value values ($1, $2, $3) on conflict (sha256) do nothing',
    [fileId, sha256, name],
  );
  if (rowCount === 0) await db.query('delete from log_file_pieces where file_id = $1', [fileId]);
}

export async function linkRunFile(db: Client, runId: number, position: number, sha256: Buffer, name: string): Promise<void> {
  await db.query('insert into run_files (run_id, position, sha256, name) values ($1, $2, $3, $4)', [runId, position, sha256, name]);
}

interface KeptFile {
  position: number;
  name: string;
  file_id: number;
  size: number;
}

/** The files of a run in their order, without their bytes. */
export async function listRunFiles(db: Client, runId: number): Promise<KeptFile[]> {
  const { rows } = await db.query<KeptFile>(
    `select r.position, r.name, f.id as file_id, (select coalesce(sum(length(p.bytes)), 0) from log_file_pieces p where p.file_id = f.id)::bigint as size
     from run_files r join log_files f on f.sha256 = r.sha256 where r.run_id = $1 order by r.position`,
    [runId],
  );
  return rows;
}

/** Bytes of a kept file, a piece at a time. */
export async function* readPieces(db: Client, fileId: number): AsyncGenerator<Buffer> {
  for (let piece = 0; ; piece++) {
    const { rows } = await db.query<{ bytes: Buffer }>('select bytes from log_file_pieces where file_id = $1 and piece = $2', [
      fileId,
      piece,
    ]);
    if (rows.length === 0) return;
    yield rows[0].bytes;
  }
}
