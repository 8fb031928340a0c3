import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, realpathSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { isMainThread, workerData } from 'node:worker_threads';
import { UNITS } from '#core/units/units';
import { discover } from './channels/discover';
import { KernelTree } from './channels/kernelFile';
import { countCores } from './channels/processor';
import type { Channel, Found } from './channels/types';
import { awaitRun, type GivenRun } from './hello';
import { burn } from './load/burn';
import { onEnding, onParentGone } from './load/guard';
import { Heater } from './load/heater';
import { LoadDriver } from './load/program';
import type { BurnJob } from './load/types';
import { type AgentOptions, HELP, OptionError, readOptions } from './options';
import { CsvLog } from './readings/csv';
import { Outbox } from './readings/outbox';
import { Sender } from './readings/send';
import { Session, type SessionLoad, type Sink } from './session';
import { sleep } from './sleep';
import { TailLog } from './tailLog';

/** What a person is told stands beside the readings, not among them. */
const say = (text: string) => process.stderr.write(`${text}\n`);
const DRAIN_MS = 3000;

async function main(): Promise<void> {
  const options = readOptions(process.argv.slice(2));
  if (options === 'help') {
    process.stdout.write(`${HELP}\n`);
    return;
  }
  const ending = new AbortController();
  const end = (why: string) => {
    if (!ending.signal.aborted) say(why);
    ending.abort();
  };
  onEnding((signal) => end(`Ended by ${signal}.`));
  onParentGone(() => end('The program that started this one has ended.'));
  const tail = options.tail ? new TailLog(options.tail, say) : null;
  const found: Found = tail ? { channels: await tail.channels(ending.signal), left_out: [] } : discover(new KernelTree(options.root));
  if (options.list) return list(found);
  if (found.channels.length === 0) {
    if (ending.signal.aborted) return;
    throw new OptionError(
      'The kernel of this machine gives nothing that could be read; a virtual machine often has no sensors. --list says more.',
    );
  }
  refuseBlindLoad(options, found.channels);
  if (options.load) say(loadWords(options));
  if (options.server && options.run === null) await serve({ ...options, server: options.server }, found.channels, tail, ending.signal);
  else await once(options, found.channels, tail, ending.signal);
}

/** A load without anybody who watches the part is only for who asks for it. */
function refuseBlindLoad(options: AgentOptions, channels: Channel[]): void {
  if (!options.load) return;
  if (options.limit_c !== null && !channels.some((c) => c.role === 'sensor'))
    throw new OptionError(
      'No temperature of the processor is read here, so the load has no limit. Give --limit none to load it nevertheless, and watch it.',
    );
  if (options.hold_w !== null && powerOf(options, channels) === null)
    throw new OptionError(
      options.hold_by
        ? `There is no channel "${options.hold_by}"; --list shows those there are.`
        : 'No power of the processor is read here, so none can be held. --list says what would let it be read; --hold-by takes another channel.',
    );
}

const powerOf = (options: AgentOptions, channels: Channel[]): string | null =>
  (options.hold_by ? channels.find((c) => c.name === options.hold_by) : channels.find((c) => c.role === 'power'))?.name ?? null;

/** Waits for runs and reads each, one after the other. */
async function serve(
  options: AgentOptions & { server: string },
  channels: Channel[],
  tail: TailLog | null,
  signal: AbortSignal,
): Promise<void> {
  const key = ownKey(options.keep);
  const began = performance.now();
  // a run that took its last reading is given once more while it is being closed
  let over = 0;
  while (!signal.aborted) {
    const look = () => {
      tail?.look();
      return Object.fromEntries(channels.map((c) => [c.name, c.read(performance.now())]));
    };
    const given = await awaitRun(key, options, channels, look, say, signal);
    if (!given) return;
    if (given.id === over) {
      await sleep(1000, signal);
      continue;
    }
    over = given.id;
    say(`Run ${given.id}: ${options.server}/live/${given.id}`);
    say(
      await readRun(
        { ...options, hold_w: given.hold_w ?? options.hold_w, limit_c: given.limit_c ?? options.limit_c },
        channels,
        tail,
        given,
        signal,
      ),
    );
    if (options.for_s !== null && performance.now() - began > 1000 * options.for_s) return;
  }
}

/** One recording: into a file, to a live run whose number was given, or both. */
async function once(options: AgentOptions, channels: Channel[], tail: TailLog | null, signal: AbortSignal): Promise<void> {
  const run = options.run === null ? null : { id: options.run, source: options.name, hold_w: null, limit_c: null };
  say(await readRun(options, channels, tail, run, signal));
}

async function readRun(
  options: AgentOptions,
  channels: Channel[],
  tail: TailLog | null,
  run: GivenRun | null,
  outer: AbortSignal,
): Promise<string> {
  const over = new AbortController();
  const end = () => over.abort();
  outer.addEventListener('abort', end, { once: true });
  let why = '';
  const load = options.load ? loadOf(options, channels) : null;
  const csv = options.csv ? new CsvLog(options.csv, channels) : null;
  const outbox =
    run && options.server
      ? new Outbox(path.join(options.keep, `${new URL(options.server).host.replace(/\W/g, '_')}-run-${run.id}.ndjson`))
      : null;
  const sender =
    run && outbox
      ? new Sender(`${options.server}/api/live/${run.id}`, run.source, outbox, {
          onLoad: (on) => load && !load.program && load.driver.ask(on),
          onOver: (reason) => {
            why = reason;
            end();
          },
          say,
        })
      : null;
  const give = (t: number, values: Record<string, number | null>) => {
    csv?.write(t, values);
    outbox?.add(t, values);
    sender?.pump();
  };
  const sink: Sink = {
    take: (t, values) => {
      if (!tail) return give(t, values);
      for (const row of tail.look()) give(row.t, row.values);
      sender?.pump();
    },
    silent_ms: () => (sender ? performance.now() - sender.heard : null),
    loadEnded: (why) => sender?.loadEnded(why),
  };
  const { rate_hz, for_s } = options;
  // a log is looked at often: it grows at its own rate
  const session = new Session({ channels: tail ? [] : channels, rate_hz: tail ? 5 : rate_hz, for_s, load, sink, say });
  const ended = await session.run(over.signal);
  outer.removeEventListener('abort', end);
  await sender?.drain(DRAIN_MS);
  if (outbox) {
    if (outbox.dropped > 0) say(`${outbox.dropped} readings were let go: they waited too long for the server.`);
    if (outbox.size > 0 && !sender?.over)
      say(`${outbox.size} readings wait in ${options.keep}; they are sent when the agent runs again with --run ${run?.id}.`);
    if (outbox.size === 0 || sender?.over) outbox.clear();
    else outbox.save();
  }
  return why || ended;
}

function loadOf(options: AgentOptions, channels: Channel[]): SessionLoad {
  const { per, share } = options.load as NonNullable<AgentOptions['load']>;
  return {
    heater: new Heater(threadsOf(options), options.mix, new URL(import.meta.url), options.hold_w === null),
    driver: new LoadDriver({ share: per === 'core' ? 1 : share, hold_w: options.hold_w, limit_c: options.limit_c }),
    program: options.program,
    power: powerOf(options, channels),
    stops_when_lost: options.server !== null && options.when_lost === 'stop',
  };
}

const threadsOf = ({ load, root }: AgentOptions): number =>
  load?.per === 'core' ? (countCores(new KernelTree(root)) ?? os.availableParallelism()) : os.availableParallelism();

function loadWords(options: AgentOptions): string {
  const threads = threadsOf(options);
  const what =
    options.hold_w === null
      ? options.load?.share === 1
        ? ''
        : `, each for ${Math.round(100 * (options.load?.share ?? 1))} % of its time`
      : `, as much as holds ${options.hold_w} W`;
  const limit = options.limit_c === null ? 'It has NO limit: watch the temperature.' : `It ends at ${options.limit_c} °C.`;
  return `Load: ${threads} threads${what}. ${limit} It is no substitute for the machine's own thermal protection.`;
}

/** Names this machine to the application, the same after a restart. */
function ownKey(folder: string): string {
  const file = path.join(folder, 'key');
  mkdirSync(folder, { recursive: true });
  if (!existsSync(file)) writeFileSync(file, randomUUID());
  return readFileSync(file, 'utf8').trim();
}

/** What can be read here, and what cannot. */
function list({ channels, left_out }: Found): void {
  const first = channels.map((c) => c.read(performance.now()));
  setTimeout(() => {
    const rows = channels.map((c, i) => {
      const value = c.read(performance.now()) ?? first[i];
      return [
        c.name,
        c.role,
        value === null ? 'none yet' : `${Number(value.toFixed(2))}${c.unit ? ` ${UNITS[c.unit].symbol}` : ''}`,
        c.from,
      ];
    });
    const all = [['Channel', 'Role', 'Now', 'From'], ...rows];
    const width = (n: number) => Math.max(...all.map((r) => r[n].length));
    if (rows.length === 0)
      process.stdout.write('The kernel of this machine gives nothing that could be read. A virtual machine often has no sensors.\n');
    else
      for (const r of all) process.stdout.write(`${r[0].padEnd(width(0))}  ${r[1].padEnd(width(1))}  ${r[2].padEnd(width(2))}  ${r[3]}\n`);
    for (const { what, why } of left_out) process.stdout.write(`\nLeft out: ${what}: ${why}.\n`);
    for (const remedy of new Set(left_out.flatMap((l) => l.remedy ?? []))) process.stdout.write(`\n${remedy}\n`);
  }, 500);
}

if (!isMainThread) burn(workerData as BurnJob);
// a name that leads to the file is as good as its own
else if (process.argv[1] && existsSync(process.argv[1]) && realpathSync(process.argv[1]) === realpathSync(fileURLToPath(import.meta.url)))
  main().catch((error) => {
    say(error instanceof OptionError ? error.message : `The agent failed: ${error instanceof Error ? error.message : String(error)}`);
    process.exitCode = error instanceof OptionError ? 2 : 1;
  });
