import type { LinkReading } from './link';

/**
 * Values that come one by one, joined to readings: a reading is over when a channel of it comes again, when all have come, or after a
 * period. What did not come has no value in it.
 */
export class Gathered {
  private values = new Map<string, number>();
  private timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly names: string[],
    private readonly period_ms: number,
    private readonly give: (reading: LinkReading) => void,
  ) {}

  take(name: string, value: number): void {
    if (this.values.has(name)) this.end();
    this.values.set(name, value);
    if (this.values.size === this.names.length) this.end();
    else this.timer ??= setTimeout(() => this.end(), this.period_ms);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.values = new Map();
  }

  private end(): void {
    const { values } = this;
    this.close();
    if (values.size > 0) this.give({ values, refused: [] });
  }
}
