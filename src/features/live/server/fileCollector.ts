import { constants, open, readFile, realpath, stat } from 'node:fs/promises';
import path from 'node:path';
import { GrowingLog } from '#core/signal/logs/growingLog';
import { readLog } from '#core/signal/logs/readLog';
import { type Log, LogError } from '#core/signal/logs/types';
import type { LiveSource } from '#features/shelf/model/channelMap';
import type { Collector, Listener, RunClock } from './readings';

/** Folder in which logs may grow; files outside are never read. */
const logFolder = (): string => process.env.WARM_GAUGE_LOGS ?? path.join(process.cwd(), '.data', 'logs');

/** Where a file of the folder truly lies; one that leads out of it is not read. */
async function withinFolder(name: string): Promise<string> {
  const folder = await realpath(logFolder());
  const file = await realpath(path.join(folder, name));
  if (path.dirname(file) === folder || file.startsWith(folder + path.sep)) return file;
  throw new LogError(name, 'it leads out of the folder of the logs, and is not read. Put the file itself there.');
}

/** Largest log that is read as a whole to see what is in it. */
const MOST_WHOLE = 16 * 1024 * 1024;

/**
 * A log of the folder as it stands.
 * @throws LogError where it is not there, too large or no log
 */
export async function readLogFile(name: string): Promise<Log> {
  const file = await withinFolder(name).catch((error) => {
    throw error instanceof LogError ? error : new LogError(name, 'it is not in the folder of logs yet.');
  });
  if ((await stat(file)).size > MOST_WHOLE)
    throw new LogError(name, `it is larger than ${MOST_WHOLE / 1024 / 1024} MB; name its columns on the sheet.`);
  return readLog(name, await readFile(file));
}

const LOOK_MS = 200;
const MOST_AT_ONCE = 1024 * 1024;
/** Times of a file that are further from the run's clock than this are on another clock. */
const SAME_CLOCK_S = 5;

/** Reads a log of the folder while it grows. */
export class FileCollector implements Collector {
  private timer: NodeJS.Timeout | null = null;
  private at = 0;
  private log: GrowingLog;
  private reading = false;
  private offset: number | null;
  private told: string | null = null;

  constructor(
    private readonly source: LiveSource & { address: { kind: 'file' } },
    private readonly clock: RunClock,
    private readonly started_epoch_s: number,
    private readonly listener: Listener,
  ) {
    this.offset = source.clock_offset_s;
    this.log = new GrowingLog(source.address.file);
  }

  start(): void {
    this.timer = setInterval(() => void this.look(), LOOK_MS);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  private async look(): Promise<void> {
    if (this.reading) return;
    this.reading = true;
    try {
      const name = await withinFolder(path.basename(this.source.address.file));
      const { size } = await stat(name);
      if (size < this.at) {
        this.listener.onRefusal('file_begun_anew', 'The file became shorter, so it was started again; it is read from its start.');
        this.at = 0;
        this.log = new GrowingLog(this.source.address.file);
      }
      if (size === this.at) return;
      const file = await open(name, constants.O_RDONLY | constants.O_NOFOLLOW);
      try {
        const { bytesRead, buffer } = await file.read(Buffer.alloc(Math.min(MOST_AT_ONCE, size - this.at)), 0, undefined, this.at);
        this.at += bytesRead;
        const read = this.log.take(buffer.toString('utf8', 0, bytesRead));
        if (read) this.give(read.log, read.from);
      } finally {
        await file.close();
      }
      this.tell(null);
    } catch (error) {
      const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
      this.tell(
        missing
          ? `There is no file ${this.source.address.file} in the folder of logs yet.`
          : error instanceof LogError
            ? error.message
            : `The file cannot be read (${(error as Error).message}).`,
      );
    } finally {
      this.reading = false;
    }
  }

  private tell(problem: string | null): void {
    if (problem === this.told && problem !== null) return;
    this.told = problem;
    this.listener.onState({ connected: problem === null, problem });
    if (problem) this.listener.onRefusal('unreadable', problem);
  }

  private give(log: Log, from: number): void {
    const columns = this.source.channels.flatMap((c) => {
      const column = log.columns.find((l) => l.name === c.name);
      return column ? { name: c.name, values: column.values } : [];
    });
    if (columns.length === 0) {
      this.listener.onRefusal(
        'no_channel',
        `None of its channels (${this.source.channels.map((c) => c.name).join(', ')}) is a column of the file.`,
      );
      return;
    }
    const base = log.time.start_epoch_s === null ? 0 : log.time.start_epoch_s - this.started_epoch_s;
    const newest = base + log.t[log.t.length - 1];
    if (this.offset === null) {
      const apart = this.clock.now() - newest;
      this.offset = log.time.start_epoch_s !== null && this.clock.scale === 1 && Math.abs(apart) < SAME_CLOCK_S ? 0 : apart;
      this.listener.onState({ clock_offset_s: this.offset });
      if (log.time.start_epoch_s !== null && this.clock.scale === 1 && this.offset !== 0)
        this.listener.onRefusal(
          'other_clock',
          `Its clock is ${Math.abs(Math.round(this.offset))} s ${this.offset > 0 ? 'behind' : 'ahead of'} the run's; that much is ${this.offset > 0 ? 'added' : 'taken off'}.`,
        );
    }
    for (let i = from; i < log.t.length; i++) {
      const t = base + log.t[i] + this.offset;
      // what was written before the run began belongs to another one
      if (t < 0) continue;
      this.listener.onReading({ t, values: new Map(columns.map((c) => [c.name, c.values[i] + this.source.offset])) });
    }
  }
}
