import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { base } from '../../../../tests/simulatedLog';
import type { LogOptions } from './types';

const samples = simulateRun(NORTH_BENCH, { ...base, idle_s: 180, load_s: 900, cooldown_s: 120 });
const START = Date.UTC(2026, 5, 15, 22, 50, 0);

/** Ways in which programs write the same run. */
interface Dialect {
  delimiter: ',' | ';' | '\t' | ' ';
  decimal: '.' | ',';
  time: keyof typeof TIMES;
  temperature: keyof typeof TEMPERATURES;
  power: 'W' | 'mW';
  clock: 'MHz' | 'GHz';
  units: 'in brackets' | 'behind' | 'in a row below';
  encoding: 'utf-8' | 'marked' | 'utf-16' | 'windows-1252';
  lineEnd: '\n' | '\r\n' | '\r';
  preamble: boolean;
  repeatHeader: boolean;
  summary: boolean;
  quoted: boolean;
  missing: string;
  extraColumn: boolean;
}

const two = (n: number) => String(n).padStart(2, '0');
const at = (t: number) => new Date(START + Math.round(1000 * t));
const clock = (d: Date) =>
  `${two(d.getUTCHours())}:${two(d.getUTCMinutes())}:${two(d.getUTCSeconds())}.${String(d.getUTCMilliseconds()).padStart(3, '0')}`;
const halves = (d: Date) =>
  `${d.getUTCHours() % 12 || 12}:${two(d.getUTCMinutes())}:${two(d.getUTCSeconds())} ${d.getUTCHours() < 12 ? 'AM' : 'PM'}`;
const date = (d: Date) => `${d.getUTCFullYear()}-${two(d.getUTCMonth() + 1)}-${two(d.getUTCDate())}`;

const TIMES = {
  iso: (t: number) => [`${date(at(t))}T${clock(at(t))}Z`],
  'iso with a blank': (t: number) => [`${date(at(t))} ${clock(at(t))}`],
  'two columns': (t: number) => [date(at(t)), clock(at(t))],
  dotted: (t: number) => [`${at(t).getUTCDate()}.${at(t).getUTCMonth() + 1}.${at(t).getUTCFullYear()} ${clock(at(t))}`],
  'month first': (t: number) => [`${at(t).getUTCMonth() + 1}/${at(t).getUTCDate()}/${at(t).getUTCFullYear()} ${halves(at(t))}`],
  'day first': (t: number) => [`${at(t).getUTCDate()}/${at(t).getUTCMonth() + 1}/${at(t).getUTCFullYear()} ${clock(at(t))}`],
  'epoch seconds': (t: number) => [(at(t).getTime() / 1000).toFixed(2)],
  'epoch milliseconds': (t: number) => [String(at(t).getTime())],
  'spreadsheet days': (t: number) => [(25_569 + at(t).getTime() / 86_400_000).toFixed(9)],
  'time of day': (t: number) => [clock(at(t))],
  elapsed: (t: number) => [t.toFixed(2)],
  'elapsed clock': (t: number) => [`${Math.floor(t / 3600)}:${two(Math.floor(t / 60) % 60)}:${(t % 60).toFixed(2).padStart(5, '0')}`],
};
const TEMPERATURES = {
  '°C': (c: number) => c.toFixed(2),
  '°F': (c: number) => (1.8 * c + 32).toFixed(3),
  K: (c: number) => (c + 273.15).toFixed(2),
};
const HEADS: Record<string, string[]> = { 'two columns': ['Date', 'Time'], elapsed: ['Elapsed (s)'], 'elapsed clock': ['Elapsed'] };

function write(d: Dialect): Uint8Array {
  const t = d.temperature;
  const named = (name: string, unit: string) =>
    d.units === 'in brackets' ? `${name} (${unit})` : d.units === 'behind' ? `${name} ${unit}` : name;
  const quantities: [string, string][] = [
    ...[1, 2, 3, 4].map((i): [string, string] => [`Die ${i}`, t]),
    ['Ambient', t],
    ['Power', d.power],
    ['Clock', d.clock],
    ['Fan', 'RPM'],
  ];
  const blanks = (cell: string) => (d.delimiter === ' ' ? cell.replaceAll(' ', '_') : cell);
  const cell = (text: string) => (d.quoted ? `"${text}"` : text);
  const head = [...(HEADS[d.time] ?? ['Time']), ...quantities.map(([n, u]) => blanks(named(n, u))), ...(d.extraColumn ? ['Remark'] : [])];
  const times = HEADS[d.time]?.length ?? 1;
  const unitRow = [
    ...Array.from({ length: times }, () => (d.delimiter === ' ' ? '[-]' : '')),
    ...quantities.map(([, u]) => `[${u}]`),
    ...(d.extraColumn ? ['[-]'] : []),
  ];
  const decimal = (text: string) => (d.decimal === ',' && /^-?\d+\.\d+$/.test(text) ? text.replace('.', ',') : text);
  const rows = samples.map((s, i) => {
    const dies = s.sensors.map((v, k) => (i === 40 && k === 1 ? d.missing : TEMPERATURES[t](v)));
    const power = d.power === 'W' ? s.power.toFixed(1) : String(Math.round(1000 * s.power));
    const speed = d.clock === 'MHz' ? String(s.clock) : (s.clock / 1000).toFixed(3);
    const cells = [...TIMES[d.time](s.t), ...dies, TEMPERATURES[t](s.ambient), power, speed, String(s.fan)].map(decimal);
    return [...cells, ...(d.extraColumn ? ['ok'] : [])].map(cell);
  });
  const header = head.map(cell);
  const lines = [
    ...(d.preamble ? ['Recorder 7', 'Operator: K. L.', ''] : []),
    header.join(d.delimiter),
    ...(d.units === 'in a row below' ? [unitRow.map(cell).join(d.delimiter)] : []),
    ...rows.flatMap((r, i) => (d.repeatHeader && i === 300 ? [header.join(d.delimiter), r.join(d.delimiter)] : [r.join(d.delimiter)])),
    ...(d.summary ? [['Average', ...header.slice(1).map(() => '41')].join(d.delimiter)] : []),
  ];
  return encode(`${lines.join(d.lineEnd)}${d.lineEnd}`, d.encoding);
}

function encode(text: string, how: Dialect['encoding']): Uint8Array {
  if (how === 'windows-1252') return Uint8Array.from(text, (c) => c.charCodeAt(0));
  if (how === 'utf-16') {
    const out = new Uint8Array(2 + 2 * text.length);
    out.set([0xff, 0xfe]);
    for (let i = 0; i < text.length; i++) out.set([text.charCodeAt(i) & 255, text.charCodeAt(i) >> 8], 2 + 2 * i);
    return out;
  }
  const bytes = new TextEncoder().encode(text);
  return how === 'marked' ? new Uint8Array([0xef, 0xbb, 0xbf, ...bytes]) : bytes;
}

const anyDialect = fc
  .record<Dialect>({
    delimiter: fc.constantFrom(',', ';', '\t', ' '),
    decimal: fc.constantFrom('.', ','),
    time: fc.constantFrom(...(Object.keys(TIMES) as (keyof typeof TIMES)[])),
    temperature: fc.constantFrom('°C', '°F', 'K'),
    power: fc.constantFrom('W', 'mW'),
    clock: fc.constantFrom('MHz', 'GHz'),
    units: fc.constantFrom('in brackets', 'behind', 'in a row below'),
    encoding: fc.constantFrom('utf-8', 'marked', 'utf-16', 'windows-1252'),
    lineEnd: fc.constantFrom('\n', '\r\n', '\r'),
    preamble: fc.boolean(),
    repeatHeader: fc.boolean(),
    summary: fc.boolean(),
    quoted: fc.boolean(),
    missing: fc.constantFrom('N/A', '', '--', 'nan'),
    extraColumn: fc.boolean(),
  })
  // what no program writes: decimal commas between commas without quotes, a blank within cells that blanks separate, an empty cell between
  // blanks
  .filter((d) => !(d.delimiter === ',' && d.decimal === ',' && !d.quoted))
  .filter(
    (d) =>
      !(
        d.delimiter === ' ' &&
        (['iso with a blank', 'dotted', 'month first', 'day first'].includes(d.time) || d.missing === '' || d.units === 'behind')
      ),
  )
  // a bare K or mW behind a name may be part of it
  .filter((d) => !(d.units === 'behind' && (d.temperature === 'K' || d.power === 'W')));

const truth = reduceLogs([{ name: 'plain.csv', bytes: write(plain()) }], {}, { limit_c: 92 }).reduction;

function plain(): Dialect {
  return {
    ...{
      delimiter: ',',
      decimal: '.',
      time: 'iso',
      temperature: '°C',
      power: 'W',
      clock: 'MHz',
      units: 'in brackets',
      encoding: 'utf-8',
      lineEnd: '\n',
    },
    ...{ preamble: false, repeatHeader: false, summary: false, quoted: false, missing: 'N/A', extraColumn: false },
  };
}

describe('the same run in any dialect', () => {
  it('gives the same stages, rise, power and clock, and counts what is none of its rows', () => {
    fc.assert(
      fc.property(anyDialect, (dialect) => {
        const options: LogOptions = {};
        const { reduction, logs } = reduceLogs([{ name: 'log.txt', bytes: write(dialect) }], options, { limit_c: 92 });
        expect(reduction.samples).toBe(samples.length);
        expect(reduction.rows).toEqual({
          partial: 0,
          ragged: 0,
          repeated: dialect.repeatHeader ? 1 : 0,
          summary: dialect.summary ? 1 : 0,
          out_of_order: 0,
        });
        expect(reduction.sensors).toHaveLength(4);
        expect(Math.abs(Number(reduction.rise_k) - Number(truth.rise_k))).toBeLessThan(0.02);
        expect(Math.abs(Number(reduction.power_w) - Number(truth.power_w))).toBeLessThan(0.1);
        expect(Math.abs(Number(reduction.clock_mhz) - Number(truth.clock_mhz))).toBeLessThan(1);
        expect(reduction.stages.map((s) => s.stage)).toEqual(truth.stages.map((s) => s.stage));
        for (const [i, s] of reduction.stages.entries()) expect(Math.abs(s.start_s - truth.stages[i].start_s)).toBeLessThan(4);
        expect(reduction.valid).toBe(true);
        const dated = !['time of day', 'elapsed', 'elapsed clock'].includes(dialect.time);
        expect(logs[0].time.start_epoch_s === null).toBe(!dated);
        if (dated) expect(Math.abs(Number(logs[0].time.start_epoch_s) - START / 1000)).toBeLessThan(1.1);
      }),
      { numRuns: 100, endOnFailure: true },
    );
  });
});
