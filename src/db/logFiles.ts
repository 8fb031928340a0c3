import type { Client } from './pool';

/** Keeps an original file, byte for byte; a file that is already there is kept once. */
export async function insertLogFile(db: Client, sha256: Buffer, name: string, bytes: Uint8Array): Promise<void> {
  await db.query('insert into log_files (sha256, name, bytes) values ($1, $2, $3) on conflict (sha256) do nothing', [sha256, name, Buffer.from(bytes)]);
}

export async function linkRunFile(db: Client, runId: number, position: number, sha256: Buffer, name: string): Promise<void> {
  await db.query('insert into run_files (run_id, position, sha256, name) values ($1, $2, $3, $4)', [runId, position, sha256, name]);
}

/** The files of a run in their order, byte for byte. */
export async function readRunFiles(db: Client, runId: number): Promise<{ name: string; bytes: Buffer }[]> {
  const { rows } = await db.query<{ name: string; bytes: Buffer }>(
    'select r.name, f.bytes from run_files r join log_files f on f.sha256 = r.sha256 where r.run_id = $1 order by r.position',
    [runId],
  );
  return rows;
}

export async function readLogFile(db: Client, runId: number, position: number): Promise<{ name: string; bytes: Buffer } | null> {
  const { rows } = await db.query<{ name: string; bytes: Buffer }>(
    'select r.name, f.bytes from run_files r join log_files f on f.sha256 = r.sha256 where r.run_id = $1 and r.position = $2',
    [runId, position],
  );
  return rows[0] ?? null;
}
