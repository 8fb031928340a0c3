import { readLog } from './readLog';
import type { Log } from './types';

/**
 * Reads a log while it grows. Its head, with the first row of readings, is put before every further piece, so that pieces are read by the
 * same reader and with the same guesses as a whole file. Whole lines are read; one that is still being written waits.
 */
export class GrowingLog {
  private head: string | null = null;
  private rest = '';

  constructor(private readonly name: string) {}

  /**
   * Takes what was appended to the file.
   * @returns a log whose rows are new from `from` on; null where there is none yet
   * @throws LogError where it cannot be read
   */
  take(more: string): { log: Log; from: number } | null {
    const text = this.rest + more;
    const end = text.lastIndexOf('\n') + 1;
    const lines = text.slice(0, end);
    this.rest = text.slice(end);
    if (this.head === null) {
      // all of it waits until a first row can be read
      this.rest = text;
      const log = this.read(lines);
      if (!log || log.t.length < 1) return null;
      this.head = `${lines.split('\n').slice(0, log.first_data_line).join('\n')}\n`;
      this.rest = text.slice(end);
      return { log, from: 0 };
    }
    if (lines === '') return null;
    const log = this.read(this.head + lines);
    // its first row is the one that stands in the head
    return log && { log, from: 1 };
  }

  private read(text: string): Log | null {
    try {
      return readLog(this.name, new TextEncoder().encode(text));
    } catch (error) {
      if (this.head === null && text.split('\n').length < 3) return null;
      throw error;
    }
  }
}
