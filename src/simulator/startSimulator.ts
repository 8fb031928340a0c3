import { HostDevice, type HostOptions } from './hostDevice';
import { powerMeter, soundMeter, tachometer, thermometer } from './instruments';
import { INSTRUMENT_FAULTS, type InstrumentFault, ScpiServer } from './scpi';
import { BENCH_FAULTS, type BenchFault, type BenchSetting, SimulatedBench } from './simulatedBench';
import { type RunningWays, startWays, WAYS, type Way } from './ways/startWays';

export const INSTRUMENTS = { thermometer, power: powerMeter, tachometer, sound: soundMeter } as const;
export type InstrumentKey = keyof typeof INSTRUMENTS;

interface StartOptions extends BenchSetting {
  /** bench seconds per second, 1 to 100 */
  speed: number;
  /** first of four ports in a row; free ones where it is null */
  port: number | null;
  host?: Partial<HostOptions>;
  /** other ways to its figures: first of three further ports, free ones where it is null; none are opened where it is left out */
  ways?: { port: number | null; period_ms: number };
  /** loads the bench by itself, again and again, s; null where it is switched by command */
  program?: { idle_s: number; load_s: number; cooldown_s: number } | null;
}

export interface RunningBench {
  bench: SimulatedBench;
  servers: Record<InstrumentKey, ScpiServer>;
  ports: Record<InstrumentKey, number>;
  host: HostDevice | null;
  ways: RunningWays | null;
  /** switches a fault on or off: of the bench by its name, of an instrument or another way as instrument:fault */
  fault: (name: string, on: boolean) => void;
  stop: () => Promise<void>;
}

const TICK_MS = 10;

/** Starts a simulated bench: its physics in real time or faster, its instruments each on a port of the loopback, and its host device. */
export async function startBench(options: StartOptions): Promise<RunningBench> {
  const bench = new SimulatedBench(options);
  const keys = Object.keys(INSTRUMENTS) as InstrumentKey[];
  const servers = Object.fromEntries(keys.map((k) => [k, new ScpiServer(INSTRUMENTS[k](bench))])) as RunningBench['servers'];
  const ports = {} as RunningBench['ports'];
  for (const [i, k] of keys.entries()) ports[k] = await servers[k].listen(options.port === null ? 0 : options.port + i);
  const ways = options.ways ? await startWays(bench, options.ways.port, options.ways.period_ms) : null;
  const host = options.host
    ? new HostDevice(bench, { file: null, push: null, epoch_s: Date.now() / 1000, period_s: 1, ...options.host })
    : null;
  const began = performance.now();
  const timer = setInterval(() => {
    const to = ((performance.now() - began) / 1000) * options.speed;
    // in small steps, so that a host that reads often misses nothing at high speed
    while (bench.time + 0.1 <= to) {
      bench.advance(Math.min(to, bench.time + 0.5));
      if (options.program) obey(bench, options.program);
      host?.tick();
    }
  }, TICK_MS);
  return {
    ...{ bench, servers, ports, host, ways },
    fault: (name, on) => switchFault(bench, servers, ways, name, on),
    async stop() {
      clearInterval(timer);
      host?.stop();
      await Promise.all([...keys.map((k) => servers[k].stop()), ways?.stop()]);
    },
  };
}

function obey(bench: SimulatedBench, { idle_s, load_s, cooldown_s }: NonNullable<StartOptions['program']>): void {
  const at = bench.time % (idle_s + load_s + cooldown_s);
  const wanted = at >= idle_s && at < idle_s + load_s;
  if (wanted !== bench.isLoaded) bench.switchLoad(wanted);
}

function switchFault(bench: SimulatedBench, servers: RunningBench['servers'], ways: RunningWays | null, name: string, on: boolean): void {
  const set = <T>(faults: Set<T>, fault: T) => (on ? faults.add(fault) : faults.delete(fault));
  if ((BENCH_FAULTS as readonly string[]).includes(name)) {
    set(bench.faults, name as BenchFault);
    return;
  }
  const [instrument, fault] = name.split(':');
  const server = servers[instrument as InstrumentKey];
  const way = ways && (WAYS as readonly string[]).includes(instrument) ? (instrument as Way) : null;
  const known = server ?? way;
  if (!known || !(INSTRUMENT_FAULTS as readonly string[]).includes(fault))
    throw new Error(`there is no fault "${name}"; there are ${faultNames().join(', ')}.`);
  set(way && ways ? ways.faults[way] : server.faults, fault as InstrumentFault);
  if (!on || (fault !== 'drop' && fault !== 'refuse')) return;
  if (way) ways?.cut(way);
  else server.cut();
}

export const faultNames = (): string[] => [
  ...BENCH_FAULTS,
  ...[...Object.keys(INSTRUMENTS), ...WAYS].flatMap((k) => INSTRUMENT_FAULTS.map((f) => `${k}:${f}`)),
];
