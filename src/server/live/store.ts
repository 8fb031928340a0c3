import { type Batch, countRefusal, highestSeq, insertBatch } from '#db/live';
import { database, isDatabaseGone, transaction } from '#db/pool';
import type { Reading } from './readings';

/** Readings held for a store that does not answer; what comes beyond is dropped, and counted. */
const MOST_HELD = 100_000;

/** Readings that a collector took, on their way into the store: kept in small batches, held while the store does not answer. */
export class ReadingBuffer {
  private held: Reading[] = [];
  private seq: number | null = null;
  private storing = false;
  private dropped = 0;

  constructor(
    private readonly liveId: number,
    private readonly source: string,
    private readonly names: string[],
  ) {}

  add(reading: Reading): void {
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
      this.seq ??= await highestSeq(database(), this.liveId, this.source);
      const part = this.held.slice(0, 5000);
      const batch: Batch = {
        ...{ source: this.source, seq_from: this.seq + 1, t: Float64Array.from(part, (r) => r.t) },
        channels: this.names.map((name) => ({ name, values: Float64Array.from(part, (r) => r.values.get(name) ?? Number.NaN) })),
      };
      await transaction((client) => insertBatch(client, this.liveId, batch));
      this.seq += part.length;
      this.held.splice(0, part.length);
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

  private async tellDropped(): Promise<void> {
    await countRefusal(database(), this.liveId, this.source, 'not_held', 'The store did not answer for so long that readings were lost.', this.dropped);
    this.dropped = 0;
  }
}
