import { constants, open, realpath, stat } from 'node:fs/promises';
import path from 'node:path';
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

const LOOK_MS = 200;
const MOST_AT_ONCE = 1024 * 1024;
/** Times of a file that are further from the run's clock than this are on another clock. */
const SAME_CLOCK_S = 5;

/**
 * Reads a log while it grows. Its head, with the first row of readings, is put before every further piece, so that pieces are read by the
 * same reader and with the same guesses as a whole file.
 */
export class FileCollector implements Collector {
  private timer: NodeJS.Timeout | null = null;
  private at = 0;
  private head: string | null = null;
  private rest = '';
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
      const name = await withinFolder(path.basename((this.source.address as { file: string }).file));
      const { size } = await stat(name);
      if (size < this.at) {
        this.listener.onRefusal('file_begun_anew', 'The file became shorter, so it was started again; it is read from its start.');
        Object.assign(this, { at: 0, head: null, rest: '' });
      }
      if (size === this.at) return;
      const file = await open(name, constants.O_RDONLY | constants.O_NOFOLLOW);
      try {
        const { bytesRead, buffer } = await file.read(Buffer.alloc(Math.min(MOST_AT_ONCE, size - this.at)), 0, undefined, this.at);
        this.at += bytesRead;
        this.take(this.rest + buffer.toString('utf8', 0, bytesRead));
      } finally {
        await file.close();
      }
      this.tell(null);
    } catch (error) {
      const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
      this.tell(
        missing
          ? `There is no file ${(this.source.address as { file: string }).file} in the folder of logs yet.`
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

  /** Whole lines are read; one that is still being written waits. */
  private take(text: string): void {
    const end = text.lastIndexOf('\n') + 1;
    this.rest = text.slice(end);
    const lines = text.slice(0, end);
    if (this.head === null) {
      this.rest = text;
      const log = this.read(lines);
      if (!log || log.t.length < 1) return;
      const rows = lines.split('\n');
      this.head = `${rows.slice(0, log.first_data_line).join('\n')}\n`;
      this.rest = text.slice(end);
      this.give(log, 0);
      return;
    }
    if (lines === '') return;
    const log = this.read(this.head + lines);
    // its first row is the one that stands in the head
    if (log) this.give(log, 1);
  }

  private read(text: string): Log | null {
    try {
      return readLog((this.source.address as { file: string }).file, new TextEncoder().encode(text));
    } catch (error) {
      if (this.head === null && text.split('\n').length < 3) return null;
      throw error;
    }
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
