import { describe, expect, it } from 'vitest';
import { LogError, type LogOptions } from '#core/signal/logs/types';
import { NORTH_BENCH } from '#simulator/rigs';
import { type SimulatedSample, simulateRun } from '#simulator/simulateRun';
import { base, codes } from '../../../../tests/simulatedLog';
import { reduceLogs } from './reduceLogs';
import type { ReduceOptions, Reduction } from './types';

const encode = (text: string) => new TextEncoder().encode(text);
const rig = NORTH_BENCH;
const TRUE_K = rig.load_w * (rig.ladder.reduce((sum, n) => sum + n.resistance, 0) + base.interface_k_per_w);

interface Column {
  head: string;
  cell: (s: SimulatedSample, i: number) => string | number;
}
const die = (n: number): Column => ({ head: `Die ${n} (°C)`, cell: (s) => s.sensors[n - 1].toFixed(1) });
const room: Column = { head: 'Room (°C)', cell: (s) => s.ambient.toFixed(2) };
const power: Column = { head: 'Power (W)', cell: (s) => s.power.toFixed(1) };
const seconds: Column = { head: 'Time (s)', cell: (s) => s.t.toFixed(1) };
const toF = (v: number) => (v * 1.8 + 32).toFixed(1);

function text(columns: Column[], change: Partial<typeof base> = {}, delimiter = ','): string {
  const rows = simulateRun(rig, { ...base, ...change });
  return `${columns.map((c) => c.head).join(delimiter)}\n${rows.map((s, i) => columns.map((c) => c.cell(s, i)).join(delimiter)).join('\n')}\n`;
}
const reduce = (log: string, options: Partial<ReduceOptions> = {}, reading: LogOptions = {}): Reduction =>
  reduceLogs([{ name: 'odd.csv', bytes: encode(log) }], reading, { limit_c: 92, ...options }).reduction;
const odd = (columns: Column[], options: Partial<ReduceOptions> = {}, change: Partial<typeof base> = {}) =>
  reduce(text(columns, change), options);
const dies = [die(1), die(2), die(3), die(4)];
const roomOf = (cell: Column['cell'], head = 'Room (°C)'): Column => ({ head, cell });
const waits = (r: Reduction, code: string) => {
  expect(codes(r)).toContain(code);
  expect(r.decision).toContain(code);
  expect(r.valid).toBe(false);
};
const holds = (r: Reduction) => {
  expect(r.decision).toEqual([]);
  expect(r.valid, codes(r).join(', ')).toBe(true);
  expect(Math.abs((r.rise_k as number) - TRUE_K)).toBeLessThan(0.5);
};

describe('an ambient that is not to be trusted is never a valid rise', () => {
  it.each([
    ['at −127 all through', () => '-127.0'],
    ['at 655.35 all through', () => '655.35'],
  ])('the only probe dead %s: no rise, and a typed room gives one', (_, cell) => {
    const columns = [seconds, ...dies, roomOf(cell), power];
    const r = odd(columns);
    expect(codes(r)).toEqual(expect.arrayContaining(['ambient_dead', 'ambient_missing']));
    expect(r).toMatchObject({ rise_k: null, valid: false });
    holds(odd(columns, { room_c: 22, room_u_k: 0.5 }));
  });
  it('at 0.0 all through, and a hut at 0.0 now and then', () => {
    waits(odd([seconds, ...dies, roomOf(() => '0.0'), power]), 'ambient_frozen');
    const frost = odd([seconds, ...dies, roomOf((s) => (Math.round((s.ambient - 22) * 10) / 10).toFixed(1)), power], {}, { seed: 3 });
    expect(frost.decision).toEqual([]);
  });
  it('dying at 1,000 s: the last reading stands in, waits, and a typed room decides', () => {
    const columns = [seconds, ...dies, roomOf((s) => (s.t > 700 ? '-127.0' : s.ambient.toFixed(2))), power];
    const r = odd(columns);
    waits(r, 'ambient_gaps');
    expect(Math.abs((r.rise_k as number) - TRUE_K)).toBeLessThan(0.5);
    holds(odd(columns, { room_c: 22, room_u_k: 0.3 }));
    holds(odd(columns, { accept: ['ambient_gaps'] }));
  });
  it('of two probes one dead: the other alone; one stuck, or two far apart: both values beside each other', () => {
    const beside = (cell: Column['cell']) => [seconds, ...dies, room, roomOf(cell, 'Room 2 (°C)'), power];
    const dead = odd(beside(() => '-127.0'));
    holds(dead);
    expect(codes(dead)).toContain('ambient_dead');
    // a probe with one value all through is as good as typed, and the one that moves stands
    holds(odd(beside(() => '18.0')));
    const apart = odd(beside((s) => (s.ambient + 25).toFixed(2)));
    waits(apart, 'ambient_disagree');
    expect(apart.alternatives.map((a) => a.without)).toEqual(['Room', 'Room 2']);
    expect(apart.alternatives[1].rise_k).toBeCloseTo(TRUE_K, 0);
    holds(
      odd(
        beside((s) => (s.ambient + 25).toFixed(2)),
        { ambient_probes: ['Room'] },
      ),
    );
    holds(odd(beside((s) => (s.ambient + 0.5).toFixed(2))));
  });
  it('a probe that stopped while the room climbs', () => {
    const climbing = (cell: Column['cell']) => odd([seconds, ...dies, roomOf(cell), power], {}, { room_drift_k_per_h: 6 });
    waits(
      climbing((s) => (s.t > 500 ? '22.80' : s.ambient.toFixed(2))),
      'ambient_frozen',
    );
    expect(climbing((s) => s.ambient.toFixed(2)).valid).toBe(true);
  });
  it('stands still only against how it stood before, and by what its steps could show', () => {
    // a room that steps every so many seconds, until it stops for good
    const stepping = (every: number, stops: number, step: number) =>
      odd(
        [seconds, ...dies, roomOf((s) => (22 + step * (Math.floor(Math.min(s.t, stops) / every) % 2)).toFixed(2)), power],
        {},
        { load_s: 1500, cooldown_s: 0 },
      );
    expect(stepping(100, 1000, 0.01).decision).toContain('ambient_frozen');
    expect(stepping(200, 1000, 0.01).decision).toEqual([]);
    // at steps of 0.1 K the room itself may rest: that is only noted
    const coarse = stepping(100, 1000, 0.1);
    expect(coarse.decision).toEqual([]);
    expect(coarse.findings.find((f) => f.code === 'ambient_frozen')?.severity).toBe('note');
    // unless another probe of the room saw it move
    const moved = odd(
      [
        ...[seconds, ...dies, roomOf((s) => (22 + 0.1 * (Math.floor(Math.min(s.t, 1000) / 100) % 2)).toFixed(1))],
        ...[roomOf((s) => (22 + (s.t > 1000 ? (s.t - 1000) / 1000 : 0)).toFixed(1), 'Room 2 (°C)'), power],
      ],
      {},
      { load_s: 1500, cooldown_s: 0 },
    );
    expect(moved.decision).toContain('ambient_frozen');
  });
  it('probes that differ by just under, and just over, two kelvin', () => {
    const beside = (by: number) => odd([seconds, ...dies, room, roomOf((s) => (s.ambient + by).toFixed(2), 'Room 2 (°C)'), power]).decision;
    expect(beside(1.9)).toEqual([]);
    expect(beside(2.1)).toEqual(['ambient_disagree']);
  });
  it('the absolute temperature is a value of its own, over the same window, and K/W stays that of the rise', () => {
    const columns = [seconds, ...dies, room, power];
    const [rise, absolute] = [odd(columns), odd(columns, { absolute: true })];
    expect((absolute.rise_k as number) - (rise.rise_k as number)).toBeCloseTo(rise.ambient_c?.mean as number, 1);
    expect(absolute).toMatchObject({
      absolute: true,
      window: rise.window,
      r_k_per_w: rise.r_k_per_w,
      mean_rise_k: rise.mean_rise_k,
      valid: true,
    });
  });
  it('K/W may stand where power differs, and nowhere else', () => {
    const power_differs = odd([seconds, ...dies, room, power], { power_w: 120 });
    expect(power_differs).toMatchObject({ decision: ['power_differs'], valid: false, r_valid: true });
    expect(odd([seconds, ...dies, room, power], { power_w: 120, power_held: false })).toMatchObject({ decision: [], valid: true });
    const apart = odd([seconds, ...dies, room, roomOf((s) => (s.ambient + 5).toFixed(2), 'Room 2 (°C)'), power]);
    expect(apart).toMatchObject({ valid: false, r_valid: false });
  });
  it('°F under a °C label, and a hot room that the study allows', () => {
    const labelled = odd([seconds, ...dies, roomOf((s) => toF(s.ambient)), power]);
    waits(labelled, 'unit_suspect');
    expect(labelled.alternatives.some((a) => Math.abs((a.rise_k as number) - TRUE_K) < 0.5)).toBe(true);
    const oven = odd([seconds, ...dies, room, power], { ambient_band_c: [55, 65], limit_c: 140 }, { room_c: 60 });
    expect(oven.decision).toEqual([]);
    expect(codes(oven)).not.toContain('ambient_dead');
  });
  it('a probe on the cooler, and sensors and room swapped', () => {
    waits(odd([seconds, ...dies, roomOf((s) => (s.ambient + 0.85 * (s.sensors[3] - s.ambient)).toFixed(2)), power]), 'ambient_on_part');
    const swapped = odd([seconds, { head: 'Die (°C)', cell: room.cell }, roomOf((s) => s.sensors[0].toFixed(1)), power]);
    waits(swapped, 'rise_impossible');
    expect(codes(swapped)).not.toContain('ambient_on_part');
  });
  it('a room of −18 °C, a probe of half-degree steps and a pre-warmed start are left alone', () => {
    holds(odd([seconds, ...dies, room, power], {}, { room_c: -18 }));
    holds(odd([seconds, ...dies, roomOf((s) => (Math.round(2 * s.ambient) / 2).toFixed(1)), power]));
    const warm = odd([seconds, ...dies, room, power], { prewarmed: true }, { warm_start_k: 12, idle_s: 60 });
    holds(warm);
    expect(codes(warm)).not.toContain('heat_soaked');
  });
});

describe('units that no header names', () => {
  const bare = (n: number, f = false): Column => ({
    head: `Die ${n}`,
    cell: (s) => (f ? toF(s.sensors[n - 1]) : s.sensors[n - 1].toFixed(1)),
  });
  it('one die of three in °F', () => {
    const r = odd([seconds, bare(1), bare(2, true), bare(3), room, power]);
    expect(codes(r)).toContain('unit_guessed');
    expect(r.valid).toBe(true);
    expect(r.spread_k).toBeLessThan(5);
  });
  it('all columns in °F: the room asks', () => {
    const all = [seconds, bare(1, true), bare(2, true), bare(3, true), roomOf((s) => toF(s.ambient), 'Room'), power];
    const r = odd(all);
    waits(r, 'unit_suspect');
    expect(r.channels.filter((c) => c.role === 'sensor')).toHaveLength(3);
    const right = reduce(text(all), {}, { units: { 'Die 1': 'degF', 'Die 2': 'degF', 'Die 3': 'degF', Room: 'degF' } });
    expect(right.valid).toBe(true);
  });
  it('a room in °F beside parts in °C', () => {
    const r = odd([seconds, ...dies, roomOf((s) => toF(s.ambient), 'Room'), power]);
    holds(r);
    expect(codes(r)).toContain('unit_guessed');
  });
});

describe('times', () => {
  const START = Date.UTC(2026, 9, 25, 0, 30) / 1000;
  const local = (t: number) => new Date(1000 * (START + t)).toISOString().slice(0, 19).replace('T', ' ');
  const at = (f: (s: SimulatedSample, i: number) => string): Column => ({ head: 'Time', cell: f });
  it('one cell of 1e308, and a glitch forwards and backwards: these rows alone', () => {
    const wild = [seconds, ...dies, room, power];
    const lines = text(wild).split('\n');
    for (const [i, v] of [
      [300, '1e308'],
      [401, '99999'],
      [402, '99998'],
      [500, '-4'],
    ] as const) {
      lines[i] = lines[i].replace(/^[^,]*/, v);
    }
    const r = reduce(lines.join('\n'));
    holds(r);
    expect(r.rows.out_of_order).toBe(4);
  });
  it('the autumn clock change keeps its rows, and a lasting step of another size waits', () => {
    const stamped = (back: number) => odd([at((s) => local(s.t > 1000 ? s.t - back : s.t)), ...dies, room, power]);
    const change = stamped(3600);
    holds(change);
    expect(codes(change)).toContain('clock_change');
    expect(change.rows.out_of_order).toBe(0);
    waits(stamped(2000), 'clock_step');
    holds(stamped(0));
  });
  it('the spring clock change at night is taken out, a gap of an hour in the afternoon is a gap', () => {
    const spring = odd([at((s) => local(s.t > 1000 ? s.t + 3600 : s.t)), ...dies, room, power]);
    expect(codes(spring)).toContain('clock_change');
    holds(spring);
    const day = odd([at((s) => local((s.t > 1000 ? s.t + 3600 : s.t) + 13 * 3600)), ...dies, room, power]);
    expect(codes(day)).not.toContain('clock_change');
  });
  it('rows left out are a note, a warning, a decision or a refusal by their share', () => {
    const broken = (every: number) => {
      const lines = text([seconds, ...dies, room, power]).split('\n');
      return reduce(lines.map((l, i) => (i > 5 && i % every === 0 ? l.replace(/,[^,]*$/, '') : l)).join('\n'));
    };
    const graveOf = (r: Reduction) => r.findings.find((f) => f.code === 'rows_left_out')?.severity;
    expect([broken(200), broken(40), broken(12), broken(4)].map(graveOf)).toEqual(['note', 'warn', 'decide', 'reject']);
    expect([broken(200), broken(40), broken(12), broken(4)].map((r) => r.valid)).toEqual([true, true, false, false]);
  });
  it('refuses steps of a nanosecond, a span of years, and dates beyond 2200', () => {
    const refused = (f: (s: SimulatedSample) => string, head = 'Time (s)') => {
      try {
        odd([{ head, cell: f }, ...dies, room, power]);
      } catch (error) {
        expect(error).toBeInstanceOf(LogError);
        return (error as LogError).message;
      }
      return 'read';
    };
    expect(refused((s) => (s.t * 1e-9).toExponential(6))).toContain('steps of a millisecond or more');
    expect(refused((s) => (s.t * 3000).toFixed(0))).toContain('up to 1000 h');
    expect(
      refused(
        (s) => `2301-01-01 00:${String(Math.floor(s.t / 60) % 60).padStart(2, '0')}:${(s.t % 60).toFixed(1).padStart(4, '0')}`,
        'Time',
      ),
    ).toMatch(/beyond the year 2200/);
    expect(refused((s) => s.t.toFixed(1))).toBe('read');
  });
  it.each([
    ['epoch microseconds', (t: number) => String(Math.round((START + t) * 1e6)), 'epoch_us'],
    ['epoch nanoseconds', (t: number) => `${Math.round((START + t) * 1e3)}000000`, 'epoch_ns'],
    ['compact dates', (t: number) => local(t).replace(/[-:]/g, '').replace(' ', 'T'), 'iso'],
    ['a month by its name', (t: number) => `${local(t).slice(8, 10)} Oct 2026 ${local(t).slice(11)}`, 'month_name'],
    ['a German month', (t: number) => `${local(t).slice(8, 10)}. Oktober 2026 ${local(t).slice(11)}`, 'month_name'],
    ['signs for year, month and day', (t: number) => `2026年10月${local(t).slice(8, 10)}日 ${local(t).slice(11)}`, 'month_name'],
  ])('reads %s', (_, cell, format) => {
    const { logs, reduction } = reduceLogs(
      [{ name: 'a.csv', bytes: encode(text([at((s) => cell(s.t)), ...dies, room, power])) }],
      {},
      { limit_c: 92 },
    );
    expect(logs[0].time.format).toBe(format);
    expect(logs[0].time.start_epoch_s).toBe(START);
    holds(reduction);
  });
});

describe('words and signs', () => {
  it.each([
    'Raumtemperatur',
    'Umgebung',
    'Température ambiante',
    'Temperatura ambiente',
    'Omgevingstemperatuur',
    'Temperatura otoczenia',
    '室温',
    '环境温度',
    '실내 온도',
  ])('%s is the room', (head) => holds(odd([seconds, ...dies, { head, cell: room.cell }, power])));
  it.each([
    ['Kerntemperatur (°C)', 'sensor'],
    ['Leistungsaufnahme (W)', 'power'],
    ['Lüfterdrehzahl', 'fan'],
    ['Puissance', 'power'],
    ['消費電力', 'power'],
    ['Card hot spot (°C)', 'sensor'],
    ['Memory hot spot (°C)', 'ignore'],
    ['Data rate (MB/s)', 'ignore'],
    ['Piece count', 'ignore'],
  ])('%s', (head, role) => {
    const { logs } = reduceLogs([
      { name: 'a.csv', bytes: encode(text([seconds, ...dies, room, { head, cell: (s) => s.sensors[0].toFixed(1) }])) },
    ]);
    expect(logs[0].columns[5].role).toBe(role);
  });
  it('a hot spot beside the general temperature of its part: both are sensors', () => {
    const { logs } = reduceLogs([
      {
        name: 'a.csv',
        bytes: encode(text([seconds, { ...die(1), head: 'Card temperature (°C)' }, { ...die(2), head: 'Card hot spot (°C)' }, room])),
      },
    ]);
    expect(logs[0].columns.slice(0, 2).map((c) => c.role)).toEqual(['sensor', 'sensor']);
  });
  it('a true minus, bars between cells, times under a foreign name, ten kinds of blanks', () => {
    const cold = (cell: Column['cell']) => odd([seconds, ...dies, roomOf(cell), power], {}, { room_c: -18 });
    holds(cold((s) => s.ambient.toFixed(2).replace('-', '−')));
    holds(reduce(text([{ ...seconds, head: 'Zeit (s)' }, ...dies, room, power], {}, '|')));
    const blanks = ['', 'N/A', '#N/A', 'NaN', 'null', '-', '--', '?', 'n.a.', '—'];
    holds(odd([seconds, ...dies, roomOf((s, i) => (i % 3 === 0 ? blanks[(i / 3) % 10] : s.ambient.toFixed(2))), power]));
  });
  it('room values every 30 s between blank cells', () => {
    // readings come every two seconds, the room's every thirty
    const sparse = odd([seconds, ...dies, roomOf((s, i) => (i % 15 === 0 ? s.ambient.toFixed(2) : '')), power]);
    holds(sparse);
    expect(codes(sparse)).not.toContain('gaps');
  });
});

describe('stages', () => {
  it.each([
    [60, 3600],
    [30, 1800],
    [15, 7200],
  ])('%i s of idle beside %i s of load', (idle_s, load_s) => {
    const r = odd([seconds, ...dies, room, power], {}, { idle_s, load_s, cooldown_s: 0 });
    holds(r);
    expect(Math.abs(r.stages[1].start_s - idle_s)).toBeLessThanOrEqual(4);
  });
  it('a log of idling alone has its stage and its rise, and no value', () => {
    const idling = odd([seconds, ...dies, room, { head: 'Power (W)', cell: () => '14.0' }], {}, { idle_s: 900, load_s: 0, cooldown_s: 0 });
    expect(idling.stages.map((s) => s.stage)).toEqual(['idle']);
    expect(idling.idle_rise_k).toBeGreaterThan(2);
    expect(idling).toMatchObject({ valid: false, rise_k: null });
  });
  it('with a limit far off, nothing throttled; without one, nobody knows', () => {
    expect(odd([seconds, ...dies, room]).throttled_share).toBe(0);
    expect(odd([seconds, ...dies, room], { limit_c: null }).throttled_share).toBeNull();
    expect(odd([seconds, ...dies, room], { limit_c: 70 }).throttled_share).toBeNull();
    // the hottest reads about 70 °C: 5 K below the limit is far, 4 K is not
    const peak = Math.max(...odd([seconds, ...dies, room]).sensors.map((s) => s.max_c as number));
    expect(odd([seconds, ...dies, room], { limit_c: peak + 5.6 }).throttled_share).toBe(0);
    expect(odd([seconds, ...dies, room], { limit_c: peak + 4 }).throttled_share).toBeNull();
  });
  it('thirty logs of whole degrees without power: both ends of the load within 5 s', () => {
    const whole = (n: number): Column => ({ head: `Die ${n} (°C)`, cell: (s) => Math.round(s.sensors[n - 1]) });
    for (let seed = 1; seed <= 30; seed++) {
      const idle_s = 60 + 10 * (seed % 20);
      const load_s = 600 + 40 * seed;
      const interface_k_per_w = 0.02 + 0.004 * seed;
      const r = odd(
        [seconds, whole(1), whole(2), { head: 'Room (°C)', cell: (s) => Math.round(s.ambient) }],
        {},
        { seed, idle_s, load_s, interface_k_per_w, period_s: 1 + (seed % 3) },
      );
      const loaded = r.stages.find((s) => s.stage === 'sustained');
      expect(Math.abs((loaded?.start_s ?? 0) - idle_s), `start, seed ${seed}`).toBeLessThanOrEqual(5);
      expect(Math.abs((loaded?.end_s ?? 0) - idle_s - load_s), `end, seed ${seed}`).toBeLessThanOrEqual(5);
    }
  });
});
