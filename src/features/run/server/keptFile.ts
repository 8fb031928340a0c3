import { createHash } from 'node:crypto';
import type { Client } from '#app/database/pool';
import { damaged } from '#app/refusal';
import { type KeptFile, readPieces } from '#features/run/store/logFiles';

/**
 * Bytes of a kept file, a piece at a time. The last is given only where all together are what was stored, so that a damaged file ends as an
 * error and not as a shorter or another one.
 * @throws Refusal 500 where they are not
 */
export async function* intactPieces(db: Client, { file_id, name, sha256 }: KeptFile): AsyncGenerator<Buffer> {
  const hash = createHash('sha256');
  let held: Buffer | null = null;
  for await (const piece of readPieces(db, file_id)) {
    hash.update(piece);
    if (held) yield held;
    held = piece;
  }
  if (!hash.digest().equals(sha256)) throw damaged(name);
  if (held) yield held;
}
