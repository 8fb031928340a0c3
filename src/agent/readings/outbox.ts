import { appendFileSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** A reading as it is sent. */
export interface Reading {
  seq: number;
  /** s since 1970 */
  t: number;
  values: Record<string, number | null>;
}

/** Room for readings that wait, bytes: hours of a machine with sixty channels, and no full disk. */
const MOST_BYTES = 64 * 1024 * 1024;
/** The file is written anew when so much of it is acknowledged, bytes. */
const STALE_BYTES = 4 * 1024 * 1024;

/**
 * Readings that wait until they are acknowledged, in memory and in a file, so that they outlive the program. Where they take more room than
 * they may, the oldest are let go and counted.
 */
export class Outbox {
  private readonly waiting = new Map<number, { line: string; reading: Reading }>();
  private bytes = 0;
  private written = 0;
  private highest = 0;
  /** readings that were let go for want of room */
  dropped = 0;

  /** @param file where they are kept; what stands in it waits again */
  constructor(
    private readonly file: string,
    private readonly most_bytes = MOST_BYTES,
  ) {
    mkdirSync(path.dirname(file), { recursive: true });
    if (existsSync(file)) this.recall();
  }

  /** Readings that wait. */
  get size(): number {
    return this.waiting.size;
  }

  /** Keeps a reading until it is acknowledged; gives its number. */
  add(t: number, values: Reading['values']): number {
    const reading = { seq: ++this.highest, t, values };
    const line = `${JSON.stringify(reading)}\n`;
    this.keep(reading, line);
    appendFileSync(this.file, line);
    this.written += line.length;
    while (this.bytes > this.most_bytes) {
      this.forget(this.waiting.keys().next().value as number);
      this.dropped++;
    }
    if (this.written - this.bytes > Math.max(STALE_BYTES, this.most_bytes / 4)) this.rewrite();
    return reading.seq;
  }

  /** The first readings that wait, the oldest first. */
  first(most: number): Reading[] {
    const readings: Reading[] = [];
    for (const { reading } of this.waiting.values()) {
      if (readings.length === most) break;
      readings.push(reading);
    }
    return readings;
  }

  /** These are stored elsewhere now, or refused for good. */
  acknowledge(numbers: Iterable<number>): void {
    for (const n of numbers) this.forget(n);
    if (this.waiting.size === 0 && this.written > STALE_BYTES) this.rewrite();
  }

  /** Notes how far it is, so that a program that starts again does not send what was acknowledged, nor number anew. */
  save(): void {
    this.rewrite();
  }

  /** Removes its file: nothing waits any more, and nothing of its run follows. */
  clear(): void {
    rmSync(this.file, { force: true });
  }

  private keep(reading: Reading, line: string): void {
    this.waiting.set(reading.seq, { line, reading });
    this.bytes += line.length;
  }

  private forget(n: number): void {
    const entry = this.waiting.get(n);
    if (!entry) return;
    this.waiting.delete(n);
    this.bytes -= entry.line.length;
  }

  private recall(): void {
    for (const line of readFileSync(this.file, 'utf8').split('\n')) {
      try {
        const said = JSON.parse(line) as Partial<Reading> & { highest?: number };
        if (said.highest !== undefined) this.highest = Math.max(this.highest, said.highest);
        if (said.seq === undefined || said.t === undefined || !said.values) continue;
        this.highest = Math.max(this.highest, said.seq);
        this.keep(said as Reading, `${line}\n`);
      } catch {
        // the last line was cut short with the program; it was never acknowledged, and is lost as a reading that was not taken
      }
    }
    this.written = this.bytes;
  }

  private rewrite(): void {
    const half = `${this.file}.part`;
    const text = [`${JSON.stringify({ highest: this.highest })}\n`, ...Array.from(this.waiting.values(), (w) => w.line)].join('');
    writeFileSync(half, text);
    renameSync(half, this.file);
    this.written = this.bytes;
  }
}
