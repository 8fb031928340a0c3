import type { Outbox } from './outbox';

/** What the application answers to readings. */
interface PushAnswer {
  stored?: number[];
  refused?: { seq: number | null; error: string }[];
  /** what the live run asks of the load */
  load?: 'on' | 'off';
  error?: string;
}

/** What sending tells of. */
export interface SendListener {
  /** the live run asks for the load, or for its end */
  onLoad: (on: boolean) => void;
  /** the run takes no more readings */
  onOver: (why: string) => void;
  say: (text: string) => void;
}

const MOST_AT_ONCE = 500;
const TIMEOUT_MS = 5000;
const PAUSES_MS = [250, 500, 1000, 2000, 4000];

/** Sends what waits, again and again until each reading is acknowledged; tells when the server was last heard. */
export class Sender {
  private sending: Promise<void> | null = null;
  private failures = 0;
  private notBefore = 0;
  private told = new Set<string>();
  private ended: string | null = null;
  /** when the server answered last, ms that only go on */
  heard = performance.now();
  over = false;

  constructor(
    private readonly url: string,
    private readonly source: string,
    private readonly outbox: Outbox,
    private readonly listener: SendListener,
  ) {}

  /** Tells the run why the load was ended here, with the next readings. */
  loadEnded(why: string): void {
    this.ended = why;
  }

  /** Sends some of what waits, unless it is being sent or the server is given time. */
  pump(): void {
    if (this.sending || this.over || this.outbox.size === 0 || performance.now() < this.notBefore) return;
    this.sending = this.send().finally(() => {
      this.sending = null;
      if (this.failures === 0 && this.outbox.size >= MOST_AT_ONCE) this.pump();
    });
  }

  /** Sends all that waits, for so long at most. */
  async drain(most_ms: number): Promise<void> {
    const end = performance.now() + most_ms;
    while (!this.over && this.outbox.size > 0 && performance.now() < end) {
      this.notBefore = 0;
      this.pump();
      await (this.sending ?? Promise.resolve());
      if (this.failures > 0) await new Promise((next) => setTimeout(next, 100));
    }
  }

  private async send(): Promise<void> {
    const readings = this.outbox.first(MOST_AT_ONCE);
    const { ended } = this;
    const lines = readings.map((r, i) => ({
      source: this.source,
      ...r,
      ...(ended && i === readings.length - 1 ? { load_ended: ended } : {}),
    }));
    try {
      const response = await fetch(this.url, {
        method: 'POST',
        headers: { 'content-type': 'application/x-ndjson' },
        body: lines.map((line) => JSON.stringify(line)).join('\n'),
        signal: AbortSignal.timeout(TIMEOUT_MS),
      });
      const answer = (await response.json()) as PushAnswer;
      if (response.status >= 500 || response.status === 429) throw new Error(answer.error ?? `It answered ${response.status}.`);
      this.heard = performance.now();
      if (this.ended === ended) this.ended = null;
      if (this.failures > 0) this.listener.say(`The server answers again; ${this.outbox.size} readings wait.`);
      this.failures = 0;
      if (!response.ok) return this.end(answer.error ?? `The server refused the readings (${response.status}).`);
      for (const { error } of answer.refused ?? []) this.sayOnce(error);
      this.outbox.acknowledge([...(answer.stored ?? []), ...(answer.refused ?? []).flatMap((r) => r.seq ?? [])]);
      if (answer.load) this.listener.onLoad(answer.load === 'on');
    } catch (error) {
      if (this.failures === 0) this.listener.say(`The server does not answer (${reasonOf(error)}); readings wait on disk.`);
      this.notBefore = performance.now() + PAUSES_MS[Math.min(this.failures, PAUSES_MS.length - 1)];
      this.failures++;
    }
  }

  private end(why: string): void {
    this.over = true;
    this.listener.onOver(why);
  }

  private sayOnce(text: string): void {
    const kind = text.replace(/\d+/g, '');
    if (this.told.has(kind)) return;
    this.told.add(kind);
    this.listener.say(`The server refused a reading: ${text}`);
  }
}

/** Why a request failed, without the words of the library around it. */
export const reasonOf = (error: unknown): string => {
  const { cause, message } = error as Error & { cause?: { code?: string } };
  return cause?.code ?? message;
};
