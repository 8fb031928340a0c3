import { database, isDatabaseGone, transaction } from '#app/database/pool';
import { type Batch, countRefusal, highestSeq, insertBatch, newestStored } from '#features/live/store/live';
import { HeldFile } from './heldFile';
import { runKey } from './loadWatchFile';
import type { LiveReading } from './readings';

/** Readings held for a store that does not answer; what comes beyond is dropped, and counted. */
const MOST_HELD = 100_000;

/** Readings that a collector took, on their way into the store: kept in small batches, held while the store does not answer. */
export class ReadingBuffer {
  private held: LiveReading[] = [];
  private seq: number | null = null;
  private storing = false;
  private dropped = 0;
  /** readings that were on their way when the store fell silent: whether they arrived is not known */
  private sent: { from: number; count: number } | null = null;
  private readonly outside: HeldFile;

  constructor(
    private readonly live: { id: number; started_at: Date },
    private readonly source: string,
    private readonly names: string[],
  ) {
    this.outside = new HeldFile(runKey(live), source);
  }

  /** Takes up readings that an earlier process kept outside the store because it was away, and gives them. */
  async recall(): Promise<LiveReading[]> {
    const left = await this.outside.read();
    if (left.length === 0) return [];
    // what an earlier process stored before it ended is not stored again
    const newest = await newestStored(database(), this.live.id, this.source);
    const fresh = left.filter((r) => newest === null || r.t > newest);
    this.outside.stored(left.length - fresh.length);
    this.held.unshift(...fresh);
    if (fresh.length === 0) await this.outside.clear();
    return fresh;
  }

  /** Keeps what is held outside the store as well, so that an end of this process does not lose it. */
  keepOutside(): Promise<void> {
    return this.outside.append(this.held);
  }

  add(reading: LiveReading): void {
    if (this.held.length >= MOST_HELD) {
      this.dropped++;
      return;
    }
    this.held.push(reading);
  }

  /** Stores what is held; true where nothing is left. */
  async flush(): Promise<boolean> {
    if (this.storing || this.held.length === 0) return this.held.length === 0;
    this.storing = true;
    try {
      this.seq ??= await this.askSeq();
      if (this.held.length === 0) return true;
      const part = this.held.slice(0, 5000);
      const batch: Batch = {
        ...{ source: this.source, seq_from: this.seq + 1, t: Float64Array.from(part, (r) => r.t) },
        channels: this.names.map((name) => ({ name, values: Float64Array.from(part, (r) => r.values.get(name) ?? Number.NaN) })),
      };
      this.sent = { from: batch.seq_from, count: part.length };
      await transaction((client) => insertBatch(client, this.live.id, batch));
      this.sent = null;
      this.seq += part.length;
      this.held.splice(0, part.length);
      this.outside.stored(part.length);
      if (this.held.length === 0) await this.outside.clear();
      if (this.dropped > 0) await this.tellDropped();
    } catch (error) {
      // a commit whose answer was lost may have been kept: the number is asked for anew
      this.seq = null;
      if (!isDatabaseGone(error)) throw error;
    } finally {
      this.storing = false;
    }
    return this.held.length === 0;
  }

  /** The highest number that is stored; what was sent last and arrived after all is not sent again. */
  private async askSeq(): Promise<number> {
    const highest = await highestSeq(database(), this.live.id, this.source);
    if (this.sent && highest >= this.sent.from + this.sent.count - 1) {
      this.held.splice(0, this.sent.count);
      this.outside.stored(this.sent.count);
    }
    this.sent = null;
    return highest;
  }

  private async tellDropped(): Promise<void> {
    await countRefusal(
      database(),
      this.live.id,
      this.source,
      'not_held',
      'The store did not answer for so long that readings were lost.',
      this.dropped,
    );
    this.dropped = 0;
  }
}
