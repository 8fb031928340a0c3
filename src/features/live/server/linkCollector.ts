import type { LiveSource } from '#features/shelf/model/channelMap';
import { type Link, LinkFailure, type LinkReading } from './links/link';
import { isLinked, type LinkedAddress, openLink } from './links/openLink';
import type { Collector, Listener, RunClock } from './readings';

/** Longest wait for an answer: a second, or two periods of an instrument that is slower. */
const TIMEOUT_MS = 1000;
const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 8000;
/** Commands that come while an instrument cannot be reached wait for this long. */
const COMMAND_WAITS_MS = 10_000;

/**
 * Reads an instrument over whatever leads to it: opens the way, asks at the instrument's rate or takes what it sends, and opens the way anew
 * with ever longer pauses where it is lost. A reading that was asked for carries the time in the middle between question and answer, one that
 * came by itself the time at which it came.
 */
export class LinkCollector implements Collector {
  private stopped = false;
  private link: Link | null = null;
  private readonly commands: { text: string; until: number }[] = [];
  private wake: () => void = () => {};
  private readonly period_ms: number;

  constructor(
    private readonly source: LiveSource & { address: LinkedAddress },
    private readonly clock: RunClock,
    private readonly listener: Listener,
  ) {
    this.period_ms = (1000 * source.period_s) / clock.scale;
  }

  start(): void {
    void this.run();
  }

  stop(): void {
    this.stopped = true;
    this.wake();
    this.link?.close();
  }

  command(text: string): boolean {
    this.commands.push({ text, until: Date.now() + COMMAND_WAITS_MS });
    this.wake();
    return this.link !== null;
  }

  async sent(): Promise<void> {
    while (!this.stopped && this.commands.some((c) => c.until > Date.now())) await new Promise((done) => setTimeout(done, 20));
  }

  private async run(): Promise<void> {
    let pause = FIRST_PAUSE_MS;
    while (!this.stopped) {
      try {
        this.link = await this.open();
        // one that was opened too late would hold its line for ever
        if (this.stopped) break;
        this.listener.onState({ connected: true, problem: null });
        pause = FIRST_PAUSE_MS;
        if ('read' in this.link) await this.poll(this.link);
        else throw await this.link.ended;
      } catch (error) {
        if (this.stopped) break;
        const failure = error instanceof LinkFailure ? error : new LinkFailure('dropped', (error as Error).message);
        this.listener.onState({ connected: false, problem: failure.message });
        this.listener.onRefusal(failure.code, failure.message);
      }
      this.link?.close();
      this.link = null;
      await this.sleep(pause);
      pause = Math.min(LONGEST_PAUSE_MS, 2 * pause);
    }
    this.link?.close();
  }

  private open(): Promise<Link> {
    const { address, channels, identity } = this.source;
    const give = (reading: LinkReading) => this.take(reading, this.clock.now());
    return openLink(address, { channels, identity, give, timeout_ms: Math.max(TIMEOUT_MS, 2 * this.period_ms) }, this.period_ms);
  }

  private async poll(link: Link & { read: () => Promise<LinkReading> }): Promise<void> {
    let due = performance.now();
    while (!this.stopped) {
      for (const c of this.commands.splice(0)) if (c.until > Date.now()) link.send?.(c.text);
      const before = this.clock.now();
      const reading = await link.read();
      this.take(reading, (before + this.clock.now()) / 2);
      due = Math.max(due + this.period_ms, performance.now());
      await this.sleep(due - performance.now());
    }
  }

  private take({ values, refused }: LinkReading, t: number): void {
    for (const r of refused) this.listener.onRefusal(r.code, r.message);
    if (refused.length > 0) this.listener.onState({ problem: refused[0].message });
    // what sends by itself tells first what was wrong, and gives its reading with a gap after it
    else if ([...values.values()].every((v) => !Number.isNaN(v))) this.listener.onState({ problem: null });
    if (values.size === 0 || this.stopped) return;
    const { offset } = this.source;
    this.listener.onReading({ t, values: new Map([...values].map(([name, value]) => [name, value + offset])) });
  }

  private sleep(ms: number): Promise<void> {
    return new Promise((done) => {
      const timer = setTimeout(done, Math.max(0, ms));
      this.wake = () => {
        clearTimeout(timer);
        done();
      };
    });
  }
}

/** True where a source is read over a link. */
export const isOverLink = (source: LiveSource): source is LiveSource & { address: LinkedAddress } => isLinked(source.address);
