import type { Channel } from './channels/types';
import type { Heater } from './load/heater';
import { type LoadDriver, type Program, partOf } from './load/program';
import { Schedule } from './readings/schedule';
import { sleep } from './sleep';

/** Where readings go. */
export interface Sink {
  take: (t: number, values: Record<string, number | null>) => void;
  /** the server was heard so long ago, ms; null where there is none */
  silent_ms: () => number | null;
  /** the load was ended here, whatever the server asks */
  loadEnded: (why: string) => void;
}

/** The load of a session. */
export interface SessionLoad {
  heater: Heater;
  driver: LoadDriver;
  program: Program | null;
  /** channel whose power is held */
  power: string | null;
  stops_when_lost: boolean;
}

interface SessionOptions {
  channels: Channel[];
  rate_hz: number;
  for_s: number | null;
  load: SessionLoad | null;
  sink: Sink;
  say: (text: string) => void;
}

/** A server that was not heard for so long watches nobody's load, ms. */
const LOST_MS = 20_000;
/** Clocks of the machine that part further than this were set, s. */
const SET_S = 2;
const TELL_MS = 60_000;
/** A load is watched at least so often, however seldom the machine is read, ms. */
const WATCH_MS = 250;

/** Reads the machine at its rate, drives its load, and hands both on, until it is over. */
export class Session {
  private readonly begin_ms = performance.now();
  private epoch_ms = Date.now() - performance.now();
  private readonly vanished = new Set<string>();
  private toldAt = performance.now();
  private cost = { cpu_ms: 0, wall_ms: 0 };
  private lost = false;
  /** the newest readings */
  now: Record<string, number | null> = {};

  constructor(private readonly options: SessionOptions) {}

  /** @returns why it ended */
  async run(signal: AbortSignal): Promise<string> {
    const { rate_hz, for_s, load, say } = this.options;
    // a load is watched more often than the machine is read
    const looks = load ? Math.max(1, Math.ceil(1000 / rate_hz / WATCH_MS)) : 1;
    const period_ms = 1000 / rate_hz / looks;
    const schedule = new Schedule(this.begin_ms, period_ms);
    let reading = 0;
    let used = process.cpuUsage();
    let usedAt = performance.now();
    try {
      while (!signal.aborted) {
        const due = schedule.next(performance.now());
        await sleep(due - performance.now(), signal);
        if (signal.aborted) break;
        const t_s = (performance.now() - this.begin_ms) / 1000;
        if (for_s !== null && t_s > for_s) return `The ${for_s} s are over.`;
        const look = Math.round((due - this.begin_ms) / period_ms);
        const isReading = look >= reading;
        if (isReading) {
          reading = (Math.floor(look / looks) + 1) * looks;
          this.read();
        }
        const part = load?.program ? partOf(load.program, t_s) : null;
        if (part === 'over') return 'The program is over.';
        if (load && part) load.driver.ask(part === 'load');
        const heated = load?.heater.isOn;
        if (load) await this.drive(load, t_s, isReading);
        if (!heated && !load?.heater.isOn) {
          const { user, system } = process.cpuUsage(used);
          this.cost.cpu_ms += (user + system) / 1000;
          this.cost.wall_ms += performance.now() - usedAt;
        }
        used = process.cpuUsage();
        usedAt = performance.now();
        this.tell(load);
      }
      return 'It was ended.';
    } finally {
      await load?.heater.stop();
      const missed = Math.floor(schedule.missed / looks);
      if (missed > 0) say(`${missed === 1 ? 'A reading was' : `${missed} readings were`} not taken: the machine was asleep or too busy.`);
      if (this.cost.wall_ms > 2000) say(`Reading took ${((100 * this.cost.cpu_ms) / this.cost.wall_ms).toFixed(2)} % of one core.`);
    }
  }

  private read(): void {
    const { channels, sink, say } = this.options;
    const at = performance.now();
    const apart = Date.now() - (this.epoch_ms + at);
    if (Math.abs(apart) > 1000 * SET_S) {
      say(`The clock of this machine was set by ${(apart / 1000).toFixed(1)} s; times follow it.`);
      this.epoch_ms += apart;
    }
    this.now = Object.fromEntries(channels.map((c) => [c.name, c.read(at)]));
    for (const [name, value] of Object.entries(this.now)) {
      if (value === null && !this.vanished.has(name) && at - this.begin_ms > 3000) {
        this.vanished.add(name);
        say(`${name} gives no reading.`);
      } else if (value !== null && this.vanished.delete(name)) say(`${name} reads again.`);
    }
    sink.take((this.epoch_ms + at) / 1000, this.now);
  }

  /** @param isReading the machine was read just now; else its part is looked at alone */
  private async drive({ heater, driver, power, stops_when_lost }: SessionLoad, t_s: number, isReading: boolean): Promise<void> {
    const { channels, sink, say } = this.options;
    const silent = sink.silent_ms();
    if (silent !== null && stops_when_lost && silent > LOST_MS) {
      if (!this.lost && driver.isAsked) say('The server has not been heard for 20 s: the load is off until it answers.');
      this.lost = true;
      driver.ask(false);
    } else this.lost = false;
    const wasEnded = driver.ended;
    const at = performance.now();
    const temperatures = channels.flatMap((c) => (c.role === 'sensor' ? ((isReading ? this.now[c.name] : c.read(at)) ?? []) : []));
    const duty = driver.step({
      t_s,
      hottest_c: temperatures.length > 0 ? Math.max(...temperatures) : null,
      power_w: power === null || !isReading ? null : (this.now[power] ?? null),
    });
    if (driver.ended && driver.ended !== wasEnded) {
      say(driver.ended);
      sink.loadEnded(driver.ended);
    }
    if (duty > 0) heater.set(duty);
    // a power that is held may ask for no load for a moment; the load itself is over only when nobody asks for it
    else if (heater.isOn && driver.isAsked) heater.set(0);
    else if (heater.isOn) await heater.stop();
  }

  /** Once a minute: how well the power is held, and what reading costs. */
  private tell(load: SessionLoad | null): void {
    if (performance.now() - this.toldAt < TELL_MS) return;
    this.toldAt = performance.now();
    const { held } = load?.driver ?? { held: null };
    if (held?.mean_w != null)
      this.options.say(`${HELD_WORDS[held.state]} ${held.mean_w.toFixed(2)} W, mean of 30 s; load ${(100 * held.duty).toFixed(0)} %.`);
  }
}

const HELD_WORDS = {
  starting: 'Load starts:',
  settling: 'Power is not settled:',
  held: 'Power is held:',
  too_weak: 'All the load there is does not reach the power asked for:',
  too_strong: 'The machine takes more than the power asked for without any load:',
};
