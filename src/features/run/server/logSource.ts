import { type Client, database } from '#app/database/pool';
import { listRunFiles, readPieces } from '#features/run/store/logFiles';

/** A log file whose bytes come piece by piece. */
export interface LogSource {
  name: string;
  /** bytes that will come, or the most they may be; null where it is not said */
  size: number | null;
  pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}

/** A file that is held in memory. */
export function sourceOf({ name, bytes }: { name: string; bytes: Uint8Array }): LogSource {
  return { name, size: bytes.length, pieces: [bytes] };
}

/** The kept files of a run. */
export async function keptSources(runId: number, db: Client = database()): Promise<LogSource[]> {
  const files = await listRunFiles(db, runId);
  return files.map((f) => ({ name: f.name, size: f.size, pieces: readPieces(db, f.file_id) }));
}
