import type { LogFile } from '#core/signal/reduce/reduceLogs';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { seededRandom } from '#core/stats/random';
import { quantise } from '#simulator/heatPath';
import { NORTH_BENCH } from '#simulator/rigs';
import { type SimulatedSample, simulateRun } from '#simulator/simulateRun';

/** A log in which nothing is wrong, with what a person would say of it and the rise that is true. */
export interface CleanLog {
  kind: string;
  seed: number;
  files: LogFile[];
  options: Partial<ReduceOptions>;
  true_rise_k: number;
  /** the same for each sensor by its name */
  true_of: Record<string, number>;
}

export const CLEAN_KINDS = [
  'plain',
  'closed case',
  'cold room',
  'laptop with a typed room',
  'chilled loop',
  'fan off',
  'room warmed by the load',
  'five-minute room logger',
  'two rows a second',
  'headers every 15 rows',
] as const;

const encode = (text: string) => new TextEncoder().encode(text);
const START_S = 1_780_300_800;

/**
 * One clean log of a kind; rate, steps of the sensors, lengths and levels are drawn from the seed.
 * @param coarseRoom whether the room may be read in steps of half a degree and more, by which a probe that stopped cannot be told
 */
export function cleanLog(kind: (typeof CLEAN_KINDS)[number], seed: number, coarseRoom = true): CleanLog {
  const random = seededRandom(seed);
  const pick = <T>(of: readonly T[]): T => of[Math.min(of.length - 1, Math.floor(random.uniform() * of.length))];
  const period = kind === 'two rows a second' ? 0.5 : pick([0.1, 0.2, 0.5, 1, 2, 5]);
  const step = pick([0.01, 0.1, 0.25, 0.5, 1]);
  const roomStep = pick(coarseRoom ? [0.01, 0.05, 0.1, 0.5, 1] : [0.01, 0.05]);
  const room = kind === 'cold room' ? -18 : 19 + 6 * random.uniform();
  const rig = kind === 'fan off' ? { ...NORTH_BENCH, fan_rpm: 0, load_w: 60 } : NORTH_BENCH;
  const run = {
    interface_k_per_w: 0.03 + 0.08 * random.uniform(),
    idle_s: Math.round(90 + 200 * random.uniform()),
    load_s: Math.round(1500 + 900 * random.uniform()),
    cooldown_s: pick([0, 120, 300]),
    period_s: period,
    room_c: room,
    room_drift_k_per_h: kind === 'closed case' ? 0.8 : 0,
    warm_start_k: 0,
    seed,
  };
  const samples = simulateRun(rig, run);
  const warmed = kind === 'room warmed by the load' || kind === 'closed case';
  // an enclosure warms with a slow time constant; part and probe see it alike
  const warmth = (t: number) => (warmed && t > run.idle_s ? 1.5 * (1 - Math.exp(-(t - run.idle_s) / 900)) : 0);
  const chill = kind === 'chilled loop' ? 15 : 0;
  const total = NORTH_BENCH.ladder.reduce((sum, n) => sum + n.resistance, 0) + run.interface_k_per_w;
  const true_rise_k = total * rig.load_w - chill;
  const true_of = Object.fromEntries(rig.sensor_offsets_k_per_w.map((o, i) => [`Die ${i + 1}`, true_rise_k + o * rig.load_w]));
  const rows = samples.map((s) => ({
    ...s,
    sensors: s.sensors.map((v) => quantise(v + warmth(s.t) - chill, step)),
    ambient: quantise(s.ambient + warmth(s.t), roomStep),
    fan: rig.fan_rpm === 0 ? 0 : s.fan,
  }));
  const options: Partial<ReduceOptions> = { limit_c: 92 };
  if (kind === 'laptop with a typed room')
    return {
      kind,
      seed,
      files: [fileOf(rows, { room: 'none' })],
      options: { ...options, room_c: room, room_u_k: 0.5 },
      true_rise_k,
      true_of,
    };
  if (kind === 'five-minute room logger')
    return { kind, seed, files: [fileOf(rows, { room: 'none' }), roomFile(rows)], options, true_rise_k, true_of };
  const coolant = kind === 'chilled loop' ? (s: SimulatedSample) => quantise(room - chill + 0.02 * s.power, 0.1) : undefined;
  const layout = { room: kind === 'headers every 15 rows' && random.uniform() < 0.5 ? 'sparse' : 'all', coolant } as const;
  return {
    kind,
    seed,
    files: [fileOf(rows, { ...layout, wholeSeconds: kind === 'two rows a second', headers: kind === 'headers every 15 rows' })],
    options,
    true_rise_k,
    true_of,
  };
}

interface LogLayout {
  room: 'all' | 'none' | 'sparse';
  coolant?: (s: SimulatedSample) => number;
  wholeSeconds?: boolean;
  headers?: boolean;
}

function stamp(t: number, whole = false): string {
  const text = new Date(Math.round((START_S + t) * 1000)).toISOString().replace('T', ' ').replace('Z', '');
  return whole ? text.slice(0, 19) : text;
}

function fileOf(rows: SimulatedSample[], layout: LogLayout): LogFile {
  const head = ['Time', 'Die 1 (°C)', 'Die 2 (°C)', 'Die 3 (°C)', 'Die 4 (°C)'];
  if (layout.room !== 'none') head.push('Room (°C)');
  if (layout.coolant) head.push('Coolant (°C)');
  head.push('Power (W)', 'Clock (MHz)', 'Fan (RPM)');
  let next = 0;
  const lines = rows.map((s) => {
    const known = layout.room === 'all' || s.t >= next;
    if (known) next = s.t + 30;
    const cells: (string | number)[] = [stamp(s.t, layout.wholeSeconds), ...s.sensors.map((v) => v.toFixed(2))];
    if (layout.room !== 'none') cells.push(known ? s.ambient.toFixed(2) : '');
    if (layout.coolant) cells.push(layout.coolant(s).toFixed(1));
    return [...cells, s.power.toFixed(1), s.clock, s.fan].join(',');
  });
  const header = head.join(',');
  const body = layout.headers ? lines.flatMap((l, i) => (i > 0 && i % 15 === 0 ? [header, l] : [l])) : lines;
  return { name: 'run.csv', bytes: encode(`${header}\n${body.join('\n')}\n`) };
}

/** A room logger of its own that reads every five minutes, from before the run to after it. */
function roomFile(rows: SimulatedSample[]): LogFile {
  const last = rows[rows.length - 1].t;
  const lines: string[] = [];
  for (let t = -400; t <= last + 400; t += 300) {
    const s = rows.reduce((a, b) => (Math.abs(b.t - t) < Math.abs(a.t - t) ? b : a));
    lines.push(`${stamp(t)},${s.ambient.toFixed(2)}`);
  }
  return { name: 'room.csv', bytes: encode(`Time,Room (°C)\n${lines.join('\n')}\n`) };
}
