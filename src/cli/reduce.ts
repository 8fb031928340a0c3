import { basename } from 'node:path';
import type { Command } from 'commander';
import { ROLES } from '#core/signal/logs/types';
import { DECISION_CODES } from '#core/signal/reduce/decisions';
import { type LogFile, reduceLogs } from '#core/signal/reduce/reduceLogs';
import type { Aggregate, ReduceOptions, Reduction, ValueSchool } from '#core/signal/reduce/types';
import { type AmbientPlace, PLACES } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import { UNITS, type Unit } from '#core/units/units';
import { number, oneOf, pairs, readBytes, UsageError } from './options';

interface ReduceFlags {
  json?: boolean;
  limit?: number;
  window?: number;
  slope?: number;
  value?: ValueSchool;
  at?: number;
  room?: number;
  roomU?: number;
  sensor?: string;
  aggregate?: Aggregate;
  role?: Record<string, (typeof ROLES)[number]>;
  unit?: Record<string, Unit>;
  dayFirst?: boolean;
  monthFirst?: boolean;
  offset?: Record<string, number>;
  first?: string;
  power?: number;
  fan?: number;
  clock?: number;
  ambient?: [number, number];
  ambientProbe?: string[];
  ambientPlace?: AmbientPlace;
  accept?: string[];
}

export function addReduce(program: Command): void {
  program
    .command('reduce')
    .description('one run from one or more log files')
    .argument('<log...>', 'log files; the first is the reference of the clock')
    .option('--json', 'print the result as JSON')
    .option('--limit <C>', 'throttle limit in °C', number(0, 300))
    .option('--window <S>', 'averaging window in seconds', number(5, 86_400))
    .option('--slope <K_PER_MIN>', 'steadiness limit in K/min', number(0.001, 100))
    .option('--value <school>', 'mean, peak, fixed or fitted', oneOf(['mean', 'peak', 'fixed', 'fitted'] as const))
    .option('--at <S>', 'seconds after load start, for a fixed-time value', number(0))
    .option('--room <C>', 'entered room temperature for a log without ambient', number(-60, 80))
    .option('--room-u <K>', 'standard uncertainty of the entered room temperature', number(0, 20))
    .option('--sensor <NAME>', 'primary sensor')
    .option('--aggregate <how>', 'named, mean or hottest', oneOf(['named', 'mean', 'hottest'] as const))
    .option('--role <COLUMN=ROLE>', 'role of a column, repeatable', pairs(oneOf(ROLES)))
    .option('--unit <COLUMN=UNIT>', 'unit of a column, repeatable', pairs(oneOf(Object.keys(UNITS) as Unit[])))
    .option('--day-first', 'dates have the day first')
    .option('--month-first', 'dates have the month first')
    .option('--offset <FILE=S>', "seconds added to a file's times, repeatable", pairs(number()))
    .option('--first <LOG>', "the mount's first run")
    .option('--power <W>', 'power the study sets', number(0))
    .option('--fan <RPM>', 'fan speed the study sets', number(0))
    .option('--clock <MHZ>', 'clock the study sets', number(0))
    .option('--ambient <LOW:HIGH>', 'ambient band of the study in °C', band)
    .option('--ambient-probe <NAME>', 'probe that measures the room, repeatable', (name: string, all: string[] = []) => [...all, name])
    .option('--ambient-place <place>', 'where the ambient is measured: room, inlet or case', oneOf(PLACES))
    .option('--accept <CODE>', 'a finding that needs a decision is accepted, repeatable', (code: string, all: string[] = []) => [
      ...all,
      decisionCode(code),
    ])
    .action((paths: string[], flags: ReduceFlags) => {
      const { reduction } = run(paths, flags);
      process.stdout.write(flags.json ? `${JSON.stringify(reduction)}\n` : describe(reduction));
      process.exitCode = reduction.valid ? 0 : 1;
    });
}

function run(paths: string[], flags: ReduceFlags) {
  if (flags.dayFirst && flags.monthFirst) throw new UsageError('--day-first and --month-first contradict each other; give one of them.');
  if (flags.value === 'fixed' && flags.at === undefined) throw new UsageError('--value fixed needs --at S, the seconds after load start.');
  if (flags.aggregate === 'named' && !flags.sensor) throw new UsageError('--aggregate named needs --sensor NAME.');
  const reading = { roles: flags.role, units: flags.unit, day_first: flags.dayFirst ? true : flags.monthFirst ? false : undefined };
  const options: Partial<ReduceOptions> = {
    limit_c: flags.limit ?? null,
    at_s: flags.at ?? null,
    room_c: flags.room ?? null,
    room_u_k: flags.roomU ?? null,
    sensor: flags.sensor ?? null,
    aggregate: flags.aggregate ?? null,
    power_w: flags.power ?? null,
    fan_rpm: flags.fan ?? null,
    clock_mhz: flags.clock ?? null,
    ambient_band_c: flags.ambient ?? null,
    ambient_probes: flags.ambientProbe ?? [],
    ambient_place: flags.ambientPlace ?? 'room',
    accept: flags.accept ?? [],
    ...(flags.window === undefined ? {} : { window_s: flags.window }),
    ...(flags.slope === undefined ? {} : { slope_k_per_min: flags.slope }),
    ...(flags.value === undefined ? {} : { value: flags.value }),
  };
  if (flags.first) {
    const first = reduceLogs([fileOf(flags.first, [])], reading, { ...options, sensor: null, ambient_probes: [] }).reduction;
    options.first = first.start_state;
    options.sensors = first.sensors.map((s) => s.name);
  }
  return reduceLogs(
    paths.map((p) => fileOf(p, paths)),
    reading,
    options,
    flags.offset,
  );
}

/** A code that a decision may name. */
function decisionCode(code: string): string {
  if (!DECISION_CODES.includes(code))
    throw new UsageError(`--accept ${code}: only a finding that needs a decision can be accepted: ${DECISION_CODES.join(', ')}.`);
  return code;
}

/** Files go by their base name unless two share it. */
function fileOf(path: string, all: string[]): LogFile {
  const shared = all.filter((p) => basename(p) === basename(path)).length > 1;
  return { name: shared ? path : basename(path), bytes: readBytes(path) };
}

function band(text: string): [number, number] {
  const [low, high] = text.split(':').map(Number);
  if (!Number.isFinite(low) || !Number.isFinite(high) || low >= high)
    throw new UsageError(`--ambient "${text}" should be LOW:HIGH in °C, such as 20:24.`);
  return [low, high];
}

function describe(r: Reduction): string {
  const value =
    r.rise_k === null
      ? 'no rise'
      : `${r.censored ? 'at or above ' : ''}${write(r.rise_k, 2)} K over ambient (standard error ${r.se_k === null ? 'unknown' : write(r.se_k, 2)} K)`;
  const lines = [
    `${value}${r.valid ? '' : r.decision.length > 0 ? `, needs your decision: ${r.decision.join(', ')}` : ', not valid'}`,
    ...r.alternatives.map(
      (a) => `${a.without ? `without ${a.without}` : `with ${a.with}`}: ${a.rise_k === null ? 'no rise' : `${write(a.rise_k, 2)} K`}`,
    ),
    r.window && `window ${write(r.window.start_s, 0)} to ${write(r.window.end_s, 0)} s, ${r.steady ? 'steady' : 'not steady'}`,
    r.ambient_c && `ambient ${write(r.ambient_c.mean, 1)} °C`,
    r.power_w !== null && `power ${write(r.power_w, 1)} W`,
    r.r_k_per_w !== null && `${write(r.r_k_per_w, 4)} K/W`,
    ...r.findings.map((f) => `${f.severity}: ${f.message}`),
  ];
  return `${lines.filter(Boolean).join('\n')}\n`;
}
