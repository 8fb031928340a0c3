import { randomUUID } from 'node:crypto';
import { type FileHandle, mkdir, open, unlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { LogSource } from './streamReduction';

/** Bytes that are read back at a time. */
const PIECE = 1024 * 1024;

/** A file that came and waits to be read, on disk. */
export interface SpooledFile extends LogSource {
  close: () => Promise<void>;
}

/** Takes what comes into a file on disk, to be read from its beginning as often as it is asked for. */
export async function spool(name: string, pieces: AsyncIterable<Uint8Array>): Promise<SpooledFile> {
  const { file, size } = await spoolBytes(pieces);
  return { name, size, pieces: readBack(file), close: () => file.close() };
}

/**
 * Takes what comes into a file on disk. The file has no name any more when the first byte comes, so that its room is given back however the
 * program ends.
 * @throws what the disk says where there is no room, or the stream where it is cut off
 */
export async function spoolBytes(pieces: AsyncIterable<Uint8Array>): Promise<{ file: FileHandle; size: number }> {
  const folder = process.env.WARM_GAUGE_INCOMING ?? tmpdir();
  await mkdir(folder, { recursive: true });
  const place = path.join(folder, `warm-gauge-${randomUUID()}`);
  const file = await open(place, 'wx+', 0o600);
  try {
    await unlink(place);
    let size = 0;
    for await (const piece of pieces) {
      await file.appendFile(piece);
      size += piece.length;
    }
    return { file, size };
  } catch (error) {
    await file.close();
    throw error;
  }
}

/** The bytes from their beginning, however often they are asked for. */
export const readBack = (file: FileHandle): AsyncIterable<Buffer> => ({
  [Symbol.asyncIterator]: () => file.createReadStream({ start: 0, autoClose: false, highWaterMark: PIECE })[Symbol.asyncIterator](),
});
