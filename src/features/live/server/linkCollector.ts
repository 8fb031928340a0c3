import type { LiveSource, MappedChannel } from '#features/shelf/model/channelMap';
import { readAnswer } from './readAnswer';
import type { Collector, Listener, RunClock } from './readings';
import { ScpiClient, ScpiFailure } from './scpiClient';

/** Longest wait for an answer: a second, or two periods of an instrument that is slower. */
const TIMEOUT_MS = 1000;
const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 8000;
/** Commands that come while an instrument cannot be reached wait for this long. */
const COMMAND_WAITS_MS = 10_000;
const ASK_ERRORS_EVERY = 50;

/**
 * Polls an instrument over SCPI at its rate: connects, checks who answers, asks, and connects anew with ever longer pauses where it is
 * lost. A reading carries the time in the middle between question and answer.
 */
export class InstrumentCollector implements Collector {
  private stopped = false;
  private client: ScpiClient | null = null;
  private readonly questions: { query: string; channels: MappedChannel[] }[];
  private readonly commands: { text: string; until: number }[] = [];
  private wake: () => void = () => {};
  private readonly timeout_ms: number;

  constructor(
    private readonly source: LiveSource & { address: { kind: 'scpi' } },
    private readonly clock: RunClock,
    private readonly listener: Listener,
  ) {
    this.timeout_ms = Math.max(TIMEOUT_MS, (2000 * source.period_s) / clock.scale);
    const queries = [...new Set(source.channels.flatMap((c) => c.query ?? []))];
    this.questions = queries.map((query) => ({ query, channels: source.channels.filter((c) => c.query === query) }));
  }

  start(): void {
    void this.run();
  }

  stop(): void {
    this.stopped = true;
    this.wake();
    this.client?.close();
  }

  command(text: string): boolean {
    this.commands.push({ text, until: Date.now() + COMMAND_WAITS_MS });
    this.wake();
    return this.client !== null;
  }

  async sent(): Promise<void> {
    while (!this.stopped && this.commands.some((c) => c.until > Date.now())) await new Promise((done) => setTimeout(done, 20));
  }

  private async run(): Promise<void> {
    let pause = FIRST_PAUSE_MS;
    while (!this.stopped) {
      try {
        await this.connect();
        pause = FIRST_PAUSE_MS;
        await this.poll();
      } catch (error) {
        if (this.stopped) break;
        const failure = error instanceof ScpiFailure ? error : new ScpiFailure('dropped', (error as Error).message);
        this.listener.onState({ connected: false, problem: failure.message });
        this.listener.onRefusal(failure.code, failure.message);
      }
      this.client?.close();
      this.client = null;
      await this.sleep(pause);
      pause = Math.min(LONGEST_PAUSE_MS, 2 * pause);
    }
    this.client?.close();
  }

  private async connect(): Promise<void> {
    const { host, port } = this.source.address as { host: string; port: number };
    const client = await ScpiClient.connect(host, port, this.timeout_ms);
    this.client = client;
    const identity = await client.query('*IDN?');
    const { identity: wanted } = this.source;
    if (wanted && !identity.includes(wanted)) {
      const message = `At ${host}:${port} answers "${identity.slice(0, 80)}"; the sheet expects "${wanted}". Its readings are not taken.`;
      throw new ScpiFailure('other_device', message);
    }
    client.send('*CLS');
    this.listener.onState({ connected: true, problem: null });
  }

  private async poll(): Promise<void> {
    const client = this.client as ScpiClient;
    const period_ms = (1000 * this.source.period_s) / this.clock.scale;
    let due = performance.now();
    for (let asked = 0; !this.stopped; asked++) {
      this.obey(client);
      const values = new Map<string, number>();
      const before = this.clock.now();
      for (const { query, channels } of this.questions) {
        const read = readAnswer(
          await client.query(query),
          channels.map((c) => c.unit),
        );
        for (const r of read.refused) this.listener.onRefusal(r.code, r.message);
        channels.forEach((c, i) => {
          values.set(c.name, read.values[i] + this.source.offset);
        });
        if (read.refused.length > 0) this.listener.onState({ problem: read.refused[0].message });
        else this.listener.onState({ problem: null });
      }
      this.listener.onReading({ t: (before + this.clock.now()) / 2, values });
      if (asked % ASK_ERRORS_EVERY === 0) await this.askErrors(client);
      due = Math.max(due + period_ms, performance.now());
      await this.sleep(due - performance.now());
    }
  }

  /** What the instrument has to complain about goes into the record. */
  private async askErrors(client: ScpiClient): Promise<void> {
    const answer = await client.query('SYST:ERR?');
    if (!/^[+-]?0\b/.test(answer)) this.listener.onRefusal('instrument_error', `It reports ${answer.slice(0, 80)}.`);
  }

  private obey(client: ScpiClient): void {
    for (const c of this.commands.splice(0)) if (c.until > Date.now()) client.send(c.text);
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
