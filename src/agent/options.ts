import os from 'node:os';
import { parseArgs } from 'node:util';
import type { Program } from './load/program';
import type { LoadMix } from './load/types';

/** Everything that the agent can be told, each with what it means. */
export interface AgentOptions {
  /** shows what can be read here, and ends */
  list: boolean;
  /** address of Warm Gauge; null where nothing is sent */
  server: string | null;
  /** live run that takes the readings; null where the application says which */
  run: number | null;
  /** name of the machine, as its sheet on the shelf will be called */
  name: string;
  /** file that takes the readings as CSV, `-` for standard output; null where none does */
  csv: string | null;
  /** a log that another program writes, sent on as it grows; null where the kernel is read */
  tail: string | null;
  /** readings a second */
  rate_hz: number;
  /** ends by itself after so long, s; null where it goes on */
  for_s: number | null;
  /** threads that heat: one a core, one a thread, or all for a share of their time; null where there is no load */
  load: { per: 'core' | 'thread'; share: number } | null;
  mix: LoadMix;
  /** power that is held, W; null where the share is */
  hold_w: number | null;
  /** channel whose power is held; null for the machine's own */
  hold_by: string | null;
  /** temperature of the part that ends the load, °C; null where it has no limit */
  limit_c: number | null;
  /** its own programme; null where the live run switches the load */
  program: Program | null;
  /** what becomes of the load when the server does not answer for 20 s */
  when_lost: 'stop' | 'go-on';
  /** folder of readings that wait */
  keep: string;
  /** another root of the kernel's files */
  root: string;
}

/** What was typed and cannot be taken, as a sentence. */
export class OptionError extends Error {}

export const HELP = `Reads the machine it runs on for Warm Gauge, and loads it where told to.

  node agent.mjs --list                                    what can be read here
  node agent.mjs --server http://127.0.0.1:4310            sends readings; Warm Gauge says when a run begins
  node agent.mjs --server URL --load threads --hold 95     the run switches a load that holds 95 W
  node agent.mjs --csv run.csv --load cores --program 300:1200:300
  node agent.mjs --server URL --run 12 --tail grown.csv    sends another program's log on as it grows

  --server URL       address of Warm Gauge, such as http://127.0.0.1:4310; a machine elsewhere reaches it through
                     "ssh -R 4310:127.0.0.1:4310 MACHINE"
  --run N            live run that takes the readings; without it Warm Gauge says which
  --name NAME        name of this machine (its host name)
  --csv FILE         writes readings into a file, - for standard output
  --tail FILE        reads a log that another program writes, instead of this machine
  --rate HZ          readings a second, 0.1 to 20 (1)
  --for S            ends after so many seconds
  --load WHAT        cores (a thread on each core), threads (on each thread), or a share such as 60% of all threads
  --mix WHAT         all, integer, float or memory: what the load computes (all)
  --hold W           holds the measured power at so many watts by changing the load
  --hold-by CHANNEL  the channel whose power is held (the machine's own power)
  --limit C          ends the load when the part reaches this temperature, °C (95); none leaves it without a limit
  --program I:L:C    seconds of idle, load and cool-down, once; without it the live run switches the load
  --when-lost WHAT   stop (ends the load 20 s after the server answered last) or go-on (stop)
  --keep FOLDER      where readings wait while the server is away (${'~'}/.warm-gauge-agent)
  --list, --help

The load is a heater, not a benchmark: it heats steadily and counts nothing. Other programs heat other parts of the
processor; compare materials under one of them throughout, never under two.`;

/** A power that is read more seldom cannot be held. */
const SLOWEST_HOLD_HZ = 0.5;
const LOADS = 'cores, threads or a share such as 60%';

/**
 * Reads the command line.
 * @throws OptionError with a sentence about what cannot be taken
 */
export function readOptions(args: string[]): AgentOptions | 'help' {
  const text = { type: 'string' } as const;
  const { values: v } = parse(args, {
    ...{ list: { type: 'boolean' }, help: { type: 'boolean' }, server: text, run: text, name: text, csv: text, tail: text, rate: text },
    ...{
      for: text,
      load: text,
      mix: text,
      hold: text,
      'hold-by': text,
      limit: text,
      program: text,
      'when-lost': text,
      keep: text,
      root: text,
    },
  } as const);
  if (v.help) return 'help';
  const options: AgentOptions = {
    list: v.list === true,
    server: v.server === undefined ? null : readServer(v.server),
    run: v.run === undefined ? null : number('run', v.run, [1, 2 ** 31], true),
    name:
      (v.name ?? os.hostname())
        .replace(/[\p{C};:=]/gu, ' ')
        .trim()
        .slice(0, 60) || 'Machine',
    csv: v.csv ?? null,
    tail: v.tail ?? null,
    rate_hz: v.rate === undefined ? 1 : number('rate', v.rate, [0.1, 20]),
    for_s: v.for === undefined ? null : number('for', v.for, [1, 31_536_000]),
    load: v.load === undefined ? null : readLoad(v.load),
    mix: oneOf('mix', v.mix ?? 'all', ['all', 'integer', 'float', 'memory'] as const),
    hold_w: v.hold === undefined ? null : number('hold', v.hold, [0.5, 2000]),
    hold_by: v['hold-by'] ?? null,
    limit_c: v.limit === 'none' ? null : v.limit === undefined ? 95 : number('limit', v.limit, [30, 150]),
    program: v.program === undefined ? null : readProgram(v.program),
    when_lost: oneOf('when-lost', v['when-lost'] ?? 'stop', ['stop', 'go-on'] as const),
    keep: v.keep ?? `${os.homedir()}/.warm-gauge-agent`,
    root: v.root ?? '/',
  };
  if (!options.list && !options.server && !options.csv)
    throw new OptionError('Say where the readings go: --server URL, --csv FILE, or --list to see what can be read.');
  if (options.run !== null && !options.server) throw new OptionError('--run needs --server: the run is one of Warm Gauge.');
  if (options.program && !options.load) throw new OptionError('--program needs --load: cores, threads or a share such as 60%.');
  if (options.hold_w !== null && !options.load) throw new OptionError('--hold needs --load: the load is what holds the power.');
  if (options.hold_w !== null && options.rate_hz < SLOWEST_HOLD_HZ)
    throw new OptionError(`--hold needs ${SLOWEST_HOLD_HZ} readings a second or more: give --rate ${SLOWEST_HOLD_HZ}.`);
  if (options.hold_w !== null && options.tail) throw new OptionError('--hold reads the power of this machine; --tail reads a log instead.');
  if (options.tail && options.load && options.limit_c !== null)
    throw new OptionError('With --tail no temperature of this machine is watched: give --limit none, or leave --load out.');
  return options;
}

type Spec = NonNullable<NonNullable<Parameters<typeof parseArgs>[0]>['options']>;

function parse<const T extends Spec>(args: string[], options: T) {
  try {
    return parseArgs({ args, options, strict: true, allowPositionals: false });
  } catch (error) {
    throw new OptionError(`${(error as Error).message.split('. ')[0]}. See --help.`);
  }
}

function number(option: string, text: string, [low, high]: [number, number], whole = false): number {
  const value = text.trim() === '' ? Number.NaN : Number(text);
  if (!(value >= low && value <= high) || (whole && !Number.isInteger(value)))
    throw new OptionError(`--${option} is a ${whole ? 'whole ' : ''}number from ${low} to ${high}, not "${text}".`);
  return value;
}

function oneOf<const T extends string>(option: string, text: string, choices: readonly T[]): T {
  const choice = choices.find((c) => c === text);
  if (!choice) throw new OptionError(`--${option} is ${choices.join(', ')}, not "${text}".`);
  return choice;
}

function readLoad(text: string): AgentOptions['load'] {
  if (text === 'cores') return { per: 'core', share: 1 };
  if (text === 'threads') return { per: 'thread', share: 1 };
  const share = /^(\d+(?:\.\d+)?)\s*%$/.exec(text.trim())?.[1];
  if (share === undefined || Number(share) < 1 || Number(share) > 100) throw new OptionError(`--load is ${LOADS}, not "${text}".`);
  return { per: 'thread', share: Number(share) / 100 };
}

function readProgram(text: string): Program {
  const parts = text.split(':').map((p) => (/^\d{1,6}$/.test(p.trim()) ? Number(p) : Number.NaN));
  if (parts.length !== 3 || parts.some((p) => Number.isNaN(p)) || parts[1] === 0)
    throw new OptionError(`--program is seconds of idle, load and cool-down, such as 300:1200:300, not "${text}".`);
  const [idle_s, load_s, cool_s] = parts;
  return { idle_s, load_s, cool_s };
}

function readServer(text: string): string {
  const url = URL.canParse(text) ? new URL(text) : null;
  if (!url || !['http:', 'https:'].includes(url.protocol))
    throw new OptionError(`--server is an address such as http://127.0.0.1:4310, not "${text}".`);
  return url.origin;
}
