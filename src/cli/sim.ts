import type { Command } from 'commander';
import { NORTH_BENCH, SOUTH_BENCH } from '#simulator/rigs';
import { faultNames, INSTRUMENTS, type InstrumentKey, startBench } from '#simulator/startSimulator';
import { number, oneOf, UsageError, whole } from './options';

interface SimOptions {
  rig: 'north' | 'south';
  speed: number;
  port: number;
  interface: number;
  room: number;
  seed: number;
  log?: string;
  push?: string;
  period: number;
  program?: string;
  gain: number;
  fault: string[];
  ways: boolean;
}

/** warm-gauge sim: a bench with its instruments on the loopback, until it is ended. */
export function addSim(program: Command): void {
  program
    .command('sim')
    .description(
      'a simulated bench: thermometer, power meter with load, tachometer and sound meter answer SCPI over TCP; a card writes a log and pushes readings',
    )
    .option('--rig <NAME>', 'north or south', oneOf(['north', 'south'] as const), 'north')
    .option('--speed <N>', 'bench seconds per second, 1 to 100', number(1, 100), 1)
    .option('--port <N>', 'first of four ports in a row', whole(1024, 65_529), 5025)
    .option('--interface <K_PER_W>', 'resistance of the interface as mounted', number(0.001, 2), 0.06)
    .option('--gain <K_PER_W>', 'reduction of the interface resistance by conditioning', number(0, 1), 0)
    .option('--room <C>', 'room temperature', number(-40, 60), 22)
    .option('--seed <N>', 'the same seed gives the same noise', whole(0, 4_294_967_295), 1)
    .option('--log <FILE>', 'log file that the card appends to')
    .option('--push <URL>', 'address that takes the card’s readings, such as http://127.0.0.1:4310/api/live/1')
    .option('--period <S>', 'seconds of the bench between the card’s readings', number(0.1, 60), 1)
    .option(
      '--ways',
      'also a Modbus server, a broker with a probe and a page of readings on the three ports after, and a serial line',
      false,
    )
    .option('--program <IDLE:LOAD:COOL>', 'loads the bench by itself, again and again, in seconds; else OUTP ON and OUTP OFF do')
    .option(
      '--fault <NAME>',
      `a fault to start with, repeatable; while it runs a line "NAME on" or "NAME off" switches one: ${faultNames().join(', ')}`,
      collect,
      [],
    )
    .action(run);
}

const collect = (text: string, sofar: string[]) => [...sofar, text];

async function run(options: SimOptions): Promise<void> {
  const channels = ['Clock', 'Throttling'];
  const bench = await startBench({
    ...{
      rig: options.rig === 'south' ? SOUTH_BENCH : NORTH_BENCH,
      interface_k_per_w: options.interface,
      room_c: options.room,
      seed: options.seed,
    },
    ...{ speed: options.speed, port: options.port, program: readProgram(options.program) },
    ...(options.ways ? { ways: { port: options.port + 4, period_ms: 1000 / options.speed } } : {}),
    ...(options.gain > 0 ? { conditioning: { gain_k_per_w: options.gain, tau_s: 1800 } } : {}),
    ...(options.log || options.push
      ? { host: { file: options.log ?? null, push: options.push ?? null, period_s: options.period, channels } }
      : {}),
  }).catch((error: NodeJS.ErrnoException) => {
    throw new UsageError(
      error.code === 'EADDRINUSE'
        ? `A port from ${options.port} to ${options.port + (options.ways ? 6 : 3)} is taken; choose another with --port.`
        : `The bench cannot be started: ${error.message}.`,
    );
  });
  const fault = (name: string, on: boolean) => {
    try {
      bench.fault(name, on);
    } catch (error) {
      throw new UsageError((error as Error).message);
    }
  };
  try {
    for (const name of options.fault) fault(name, true);
  } catch (error) {
    await bench.stop();
    throw error;
  }
  for (const key of Object.keys(INSTRUMENTS) as InstrumentKey[]) process.stdout.write(`${key} 127.0.0.1:${bench.ports[key]}\n`);
  for (const { address, channels } of Object.values(bench.ways?.sheets ?? {})) process.stdout.write(`${address}  ${channels}\n`);
  process.stderr.write('The bench runs; Ctrl-C ends it.\n');
  await untilEnded((line) => {
    const said = /^(\S+) (on|off)$/.exec(line.trim());
    try {
      if (said) fault(said[1], said[2] === 'on');
      else if (line.trim()) process.stderr.write('Write a fault and on or off, such as "door on".\n');
    } catch (error) {
      process.stderr.write(`${(error as Error).message}\n`);
    }
  });
  await bench.stop();
}

function readProgram(text: string | undefined): { idle_s: number; load_s: number; cooldown_s: number } | null {
  if (text === undefined) return null;
  const parts = text.split(':').map(Number);
  if (parts.length !== 3 || !parts.every((p) => p > 0 && p <= 100_000))
    throw new UsageError(`"${text}" is no program; write seconds of idle, load and cool-down such as 120:900:300.`);
  const [idle_s, load_s, cooldown_s] = parts;
  return { idle_s, load_s, cooldown_s };
}

/** Goes on until the process is asked to end; lines typed meanwhile are told. */
function untilEnded(onLine: (line: string) => void): Promise<void> {
  process.stdin.setEncoding('utf8').on('data', (text) => {
    for (const line of String(text).split('\n')) if (line !== '') onLine(line);
  });
  return new Promise((done) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const)
      process.once(signal, () => {
        process.stdin.destroy();
        done();
      });
  });
}
