import { createHash } from 'node:crypto';
import { appendFile, mkdir, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { watchFolder } from './loadWatchFile';
import type { LiveReading } from './readings';

/** Most bytes of readings of one source that are kept outside the store. */
const MOST_BYTES = 50 * 1024 * 1024;

/** Readings of one source kept in a file while the store is away: a line each, in the order they came. */
export class HeldFile {
  private readonly file: string;
  /** readings at the head of what is held that the file has already */
  private kept = 0;
  private bytes = 0;

  /** @param run key of the live run, see `runKey` */
  constructor(run: string, source: string) {
    const name = createHash('sha256').update(source).digest('hex').slice(0, 16);
    this.file = path.join(watchFolder(), `held-${run}-${name}.ndjson`);
  }

  /** Adds what of the held readings is not in the file yet; beyond its bound nothing is added. */
  async append(held: LiveReading[]): Promise<void> {
    const fresh = held.slice(this.kept);
    if (fresh.length === 0 || this.bytes > MOST_BYTES) return;
    const text = fresh.map((r) => `${JSON.stringify({ t: r.t, values: [...r.values] })}\n`).join('');
    await mkdir(path.dirname(this.file), { recursive: true });
    await appendFile(this.file, text);
    this.kept = held.length;
    this.bytes += text.length;
  }

  /** So many readings at the head were stored: the file's own count moves with them. */
  stored(count: number): void {
    this.kept = Math.max(0, this.kept - count);
  }

  /** What a process that ended left; a last line that was cut off is passed over. */
  async read(): Promise<LiveReading[]> {
    const text = await readFile(this.file, 'utf8').catch(() => '');
    const readings = text.split('\n').flatMap((line): LiveReading[] => {
      try {
        const { t, values } = JSON.parse(line) as { t: number; values: [string, number | null][] };
        return [{ t, values: new Map(values.map(([name, v]) => [name, v ?? Number.NaN])) }];
      } catch {
        return [];
      }
    });
    this.kept = readings.length;
    this.bytes = text.length;
    return readings;
  }

  async clear(): Promise<void> {
    if (this.bytes === 0) return;
    this.kept = 0;
    this.bytes = 0;
    await rm(this.file, { force: true });
  }
}
