import { closeSync, openSync, readSync, statSync } from 'node:fs';
import path from 'node:path';
import { GrowingLog } from '#core/signal/logs/growingLog';
import type { Log } from '#core/signal/logs/types';
import { UNITS } from '#core/units/units';
import type { Channel } from './channels/types';

const LOOK_MS = 200;
const MOST_AT_ONCE = 1024 * 1024;

/** Follows a log that another program writes, and gives its rows as they come. */
export class TailLog {
  private at = 0;
  private log: GrowingLog;
  /** times in a row that it could not be read */
  private failures = 0;

  constructor(
    private readonly file: string,
    private readonly say: (text: string) => void,
  ) {
    this.log = new GrowingLog(path.basename(file));
  }

  /** Rows that were appended since the last look, on the log's own clock where it has one. */
  look(): { t: number; values: Record<string, number | null> }[] {
    const read = this.tryToRead();
    return read ? rowsOf(read.log, read.from) : [];
  }

  /** Waits for a first row, which tells the channels; it and what stands with it is given by the first `look` that follows. */
  async channels(signal: AbortSignal): Promise<Channel[]> {
    let told = false;
    for (;;) {
      const read = this.tryToRead();
      if (read) {
        this.begin();
        return channelsOf(read.log);
      }
      if (!told) this.say(`${this.file} has no readings yet; waiting.`);
      told = true;
      if (signal.aborted) return [];
      await new Promise((next) => setTimeout(next, LOOK_MS));
    }
  }

  /** What is away, or cannot be read yet, is tried again when it has grown; the first rows of a log may say too little, so the third time is told. */
  private tryToRead(): { log: Log; from: number } | null {
    try {
      const read = this.readMore();
      if (read) this.failures = 0;
      return read;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT' && ++this.failures === 3) this.say((error as Error).message);
      return null;
    }
  }

  private begin(): void {
    this.at = 0;
    this.log = new GrowingLog(path.basename(this.file));
  }

  private readMore(): { log: Log; from: number } | null {
    const { size } = statSync(this.file);
    if (size < this.at) {
      this.say(`${this.file} became shorter: it was begun anew.`);
      this.begin();
    }
    if (size === this.at) return null;
    const handle = openSync(this.file, 'r');
    try {
      const buffer = Buffer.alloc(Math.min(MOST_AT_ONCE, size - this.at));
      const length = readSync(handle, buffer, 0, buffer.length, this.at);
      this.at += length;
      return this.log.take(buffer.toString('utf8', 0, length));
    } finally {
      closeSync(handle);
    }
  }
}

const channelsOf = (log: Log): Channel[] =>
  log.columns
    .filter((c) => c.unit !== null || ['throttle', 'score', 'frame'].includes(c.role))
    .slice(0, 60)
    .map((c) => ({ name: nameOf(c.name), role: c.role, unit: c.unit && UNITS[c.unit].base, from: c.name, read: () => null }));

/** A name as a sheet takes it. */
const nameOf = (name: string): string =>
  name
    .replace(/[:;=\s]+/g, ' ')
    .slice(0, 40)
    .trim();

function rowsOf(log: Log, from: number): { t: number; values: Record<string, number | null> }[] {
  const known = new Set(channelsOf(log).map((c) => c.name));
  const columns = log.columns.filter((c) => known.has(nameOf(c.name)));
  const start = log.time.start_epoch_s ?? Date.now() / 1000 - log.t[log.t.length - 1];
  return Array.from({ length: log.t.length - from }, (_, i) => ({
    t: start + log.t[from + i],
    values: Object.fromEntries(
      columns.map((c) => {
        const v = c.values[from + i];
        return [nameOf(c.name), Number.isFinite(v) ? v : null];
      }),
    ),
  }));
}
