import { appendFileSync, writeFileSync } from 'node:fs';
import type { SimulatedBench } from './simulatedBench';

export interface HostOptions {
  /** file that grows by a line a reading; none is written where it is null */
  file: string | null;
  /** address that takes the readings as NDJSON; null where nothing is pushed */
  push: string | null;
  /** seconds since 1970 at the bench's time zero */
  epoch_s: number;
  /** s of the bench between readings */
  period_s: number;
  /** channels that are pushed; all where none are named */
  channels?: string[];
}

/** Readings that are kept for a receiver that does not answer. */
const MOST_WAITING = 20_000;
const A_BODY = 500;

/**
 * The computer under test: it reads its own clock, throttle flag and sensors, writes a growing log and pushes it on until each reading is
 * acknowledged.
 */
export class HostDevice {
  /** why the last push was refused */
  refused: string | null = null;
  private push: string | null;
  private seq = 0;
  private next = 0;
  private waiting: { seq: number; t: number; values: Record<string, number> }[] = [];
  private sending = false;
  private stopped = false;

  constructor(
    private readonly bench: SimulatedBench,
    private readonly options: HostOptions,
  ) {
    this.push = options.push;
    if (options.file) writeFileSync(options.file, 'Time,Core 1 (°C),Core 2 (°C),Clock (MHz),Throttling\n');
  }

  /** Takes the readings that are due, and sends what waits. */
  tick(): void {
    if (this.bench.time < this.next) return;
    this.next = this.bench.time + this.options.period_s;
    const { sensors, clock, throttling } = this.bench.read();
    const t = this.options.epoch_s + this.bench.time;
    const values = { 'Core 1': sensors[0], 'Core 2': sensors[1], Clock: clock, Throttling: throttling ? 1 : 0 };
    const names = Object.keys(values).filter((n) => !this.options.channels || this.options.channels.includes(n)) as (keyof typeof values)[];
    if (this.options.file) {
      const figures = [values['Core 1'].toFixed(1), values['Core 2'].toFixed(1), clock, values.Throttling];
      appendFileSync(this.options.file, `${[new Date(Math.round(1000 * t)).toISOString(), ...figures].join(',')}\n`);
    }
    if (!this.push || this.refused) return;
    this.waiting.push({ seq: ++this.seq, t, values: Object.fromEntries(names.map((n) => [n, values[n]])) });
    if (this.waiting.length > MOST_WAITING) this.waiting.shift();
    void this.send();
  }

  /** Sends its readings elsewhere from now on, numbered anew. */
  pushTo(push: string | null): void {
    Object.assign(this, { push, seq: 0, waiting: [], refused: null });
  }

  stop(): void {
    this.stopped = true;
  }

  private async send(): Promise<void> {
    if (this.sending || this.stopped || this.waiting.length === 0) return;
    this.sending = true;
    const batch = this.waiting.slice(0, A_BODY);
    const { push } = this;
    try {
      const response = await fetch(push as string, {
        method: 'POST',
        headers: { 'content-type': 'application/x-ndjson' },
        body: batch.map((r) => JSON.stringify({ source: 'host', ...r })).join('\n'),
        signal: AbortSignal.timeout(5000),
      });
      const body = (await response.json()) as { stored?: number[]; error?: string };
      if (push !== this.push) return;
      if (response.ok) {
        const stored = new Set(body.stored ?? []);
        this.waiting = this.waiting.filter((r) => !stored.has(r.seq));
      } else if (response.status < 500) this.refused = body.error ?? `refused with ${response.status}`;
    } catch {
      // the receiver does not answer: the readings wait
    } finally {
      this.sending = false;
    }
  }
}
