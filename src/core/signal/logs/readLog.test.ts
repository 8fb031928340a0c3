import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { readLog } from './readLog';
import { LogError, type LogOptions } from './types';

const encode = (text: string) => new TextEncoder().encode(text);
const read = (text: string, options?: LogOptions) => readLog('log.csv', encode(text), options);
const rows = (n: number, row: (i: number) => string) => Array.from({ length: n }, (_, i) => row(i)).join('\n');

describe('layouts', () => {
  it('reads semicolons with decimal commas', () => {
    const log = read(`Zeit;Die (°C);Power (W)\n${rows(5, (i) => `${i},5;41,${i};140,0`)}\n`);
    expect(log).toMatchObject({ delimiter: ';', decimal: ',' });
    expect(Array.from(log.t)).toEqual([0, 1, 2, 3, 4]);
    expect(log.columns[0].values[3]).toBe(41.3);
  });
  it('reads blanks as separators', () => {
    const log = read(`t  die  power\n${rows(5, (i) => `${i}   4${i}.5   140`)}\n`);
    expect(log.delimiter).toBe(' ');
    expect(log.columns[0]).toMatchObject({ name: 'die', role: 'sensor' });
  });
  it('finds the header below a preamble and the units below the header', () => {
    const log = read(
      `Recorder 7, serial 12\nOperator: K. L.\n\nTime,Die,Room,Power\n,[°F],[°F],[mW]\n${rows(4, (i) => `2026-06-01 10:00:0${i},122,68,140000`)}\n`,
    );
    expect(log).toMatchObject({ header_line: 4, unit_line: 5, first_data_line: 6 });
    expect(log.columns.map((c) => c.unit)).toEqual(['degF', 'degF', 'mW']);
    expect(log.columns[0].values[0]).toBeCloseTo(50, 9);
    expect(log.columns[2].values[0]).toBeCloseTo(140, 9);
  });
  it('keeps commas inside quotes, in the header and in the cells', () => {
    const log = read(`Time,"Die, north (°C)",Note\n${rows(4, (i) => `${i},41.${i},"warm, steady"`)}\n`);
    expect(log.columns[0].name).toBe('Die, north');
    expect(log.columns[1].role).toBe('ignore');
  });
  it('reads cells that are all in quotes, and rows that end in carriage returns alone', () => {
    const log = read(`"Time","Die (°C)","Room (°C)"\n${rows(5, (i) => `"2026-06-01 10:00:0${i}.5","4${i}.25","22,1"`)}\n`);
    expect(Array.from(log.t)).toEqual([0, 1, 2, 3, 4]);
    expect(Array.from(log.columns[0].values)).toEqual([40.25, 41.25, 42.25, 43.25, 44.25]);
    expect(read(`Time,Die (°C)\n${rows(5, (i) => `${i},4${i}`)}\n`.replaceAll('\n', '\r')).t).toHaveLength(5);
  });
  it('takes a quote that is never closed for a plain character', () => {
    const log = read(`Time,Die (°C),Note\n${rows(6, (i) => `${i},4${i},${i === 2 ? '"warm' : 'calm'}`)}\n`);
    expect(log.t).toHaveLength(6);
    expect(log.columns[0].values[5]).toBe(45);
  });
  it('reads a byte order mark, UTF-16 and Windows-1252', () => {
    const text = `Time (s),Die (°C)\n${rows(4, (i) => `${i},41.${i}`)}\n`;
    const utf16 = new Uint8Array(2 + 2 * text.length);
    utf16.set([0xff, 0xfe]);
    for (let i = 0; i < text.length; i++) utf16.set([text.charCodeAt(i) & 255, text.charCodeAt(i) >> 8], 2 + 2 * i);
    const latin = Uint8Array.from(text, (c) => c.charCodeAt(0));
    const marked = new Uint8Array([0xef, 0xbb, 0xbf, ...encode(text)]);
    for (const bytes of [utf16, latin, marked]) expect(readLog('log.csv', bytes).columns[0]).toMatchObject({ name: 'Die', unit: 'degC' });
  });
  it('reads a file without a header', () => {
    const log = read(`${rows(5, (i) => `${i},4${i}.5,22.1`)}\n`);
    expect(log.header_line).toBeNull();
    expect(log.columns.map((c) => c.name)).toEqual(['Column 2', 'Column 3']);
  });
  it('counts what it leaves out', () => {
    const head = 'Time,Die (°C)';
    const log = read(`${head}\n0,41\n1,42\n${head}\n2,43,7\n2,43\n1,44\n3,45\nMax,45\n4,4`.replace('\n4,4', '\n4'));
    expect(log.rows).toEqual({ partial: 1, ragged: 1, repeated: 1, summary: 1, out_of_order: 1 });
    expect(Array.from(log.t)).toEqual([0, 1, 2, 3]);
  });
  it('takes missing readings as missing, never as nought', () => {
    const log = read('Time,Die (°C)\n0,41\n1,N/A\n2,\n3,--\n4,42\n');
    expect(Array.from(log.columns[0].values)).toEqual([41, Number.NaN, Number.NaN, Number.NaN, 42]);
  });
});

describe('times', () => {
  const timed = (cells: string[], name = 'Time') => read(`${name},Die (°C)\n${cells.map((c, i) => `${c},4${i}`).join('\n')}\n`);
  it.each([
    ['ISO with a zone', ['2026-06-01T10:00:00+02:00', '2026-06-01T10:00:01+02:00'], 'iso', Date.UTC(2026, 5, 1, 8) / 1000],
    ['ISO without', ['2026-06-01 10:00:00.5', '2026-06-01 10:00:01.5'], 'iso', Date.UTC(2026, 5, 1, 10) / 1000 + 0.5],
    ['d.m.yyyy', ['1.6.2026 10:00:00', '1.6.2026 10:00:01'], 'dotted_date', Date.UTC(2026, 5, 1, 10) / 1000],
    [
      'm/d/yyyy with halves of the day',
      ['6/15/2026 11:59:59 AM', '6/15/2026 12:00:00 PM'],
      'month_day',
      Date.UTC(2026, 5, 15, 11, 59, 59) / 1000,
    ],
    ['d/m/yyyy told by its day', ['15/6/2026 12:00:00', '15/6/2026 12:00:01'], 'day_month', Date.UTC(2026, 5, 15, 12) / 1000],
    ['epoch seconds', ['1780300800', '1780300801'], 'epoch_s', 1780300800],
    ['epoch milliseconds', ['1780300800000', '1780300801000'], 'epoch_ms', 1780300800],
    ['spreadsheet days', ['46174.5', '46174.50001157407'], 'excel_serial', Date.UTC(2026, 5, 1, 12) / 1000],
    ['times of day', ['23:59:59', '0:00:00'], 'time_of_day', null],
    ['elapsed', ['0:00:00', '0:00:01'], 'elapsed_clock', null],
    ['elapsed seconds', ['5', '6'], 'elapsed_s', null],
  ])('%s', (_, cells, format, start) => {
    const log = timed(cells);
    expect(log.time.format).toBe(format);
    expect(log.time.start_epoch_s).toBe(start);
    expect(log.t[1]).toBeCloseTo(1, 3);
  });
  it('joins a column of dates with a column of times', () => {
    const log = read('Date,Time,Die (°C)\n2026-06-01,10:00:00,41\n2026-06-01,10:00:02,42\n');
    expect(log.time.columns).toEqual(['Date', 'Time']);
    expect(log.t[1]).toBe(2);
  });
  it('counts small steps back as out of order, a great one as midnight', () => {
    const log = timed(['23:59:58', '23:59:57', '23:59:59', '0:00:01']);
    expect(log.rows.out_of_order).toBe(1);
    expect(Array.from(log.t)).toEqual([0, 1, 3]);
  });
  it('asks for the order of day and month, and takes the answer', () => {
    const text = 'Time,Die (°C)\n03/04/2026 10:00:00,41\n03/04/2026 10:00:01,42\n';
    expect(() => read(text)).toThrow('can be read with the day or the month first');
    expect(read(text, { day_first: true }).time.start_epoch_s).toBe(Date.UTC(2026, 3, 3, 10) / 1000);
    expect(read(text, { day_first: false }).time.start_epoch_s).toBe(Date.UTC(2026, 2, 4, 10) / 1000);
  });
});

describe('roles', () => {
  const roles = (header: string, cells: string, options?: LogOptions) =>
    Object.fromEntries(read(`Time,${header}\n0,${cells}\n1,${cells}\n2,${cells}\n`, options).columns.map((c) => [c.name, c.role]));
  it('come from names and units', () => {
    expect(
      roles(
        'Core 1 (°C),Room air (°C),Loop water (°C),Exhaust (°C),Package power (W),Core clock (GHz),Fan 1 (RPM),Sound level (dB),Load (%)',
        '60,22,30,35,140,2.1,1200,31,100',
      ),
    ).toEqual({
      'Core 1': 'sensor',
      'Room air': 'ambient',
      'Loop water': 'coolant',
      Exhaust: 'exhaust',
      'Package power': 'power',
      'Core clock': 'clock',
      'Fan 1': 'fan',
      'Sound level': 'noise',
      Load: 'load',
    });
  });
  it('are not misled by names alone', () => {
    expect(
      roles(
        'Die (°C),Ambient humidity (%),Ambient light (lx),Power limit (W),Throttle valve (%),Memory clock (MHz),Core clock (MHz)',
        '60,40,300,180,37,900,2100',
      ),
    ).toMatchObject({
      'Ambient humidity': 'ignore',
      'Ambient light': 'ignore',
      'Power limit': 'ignore',
      'Throttle valve': 'ignore',
      'Memory clock': 'ignore',
      'Core clock': 'clock',
    });
  });
  it('take one power column, the part itself, never a sum', () => {
    expect(roles('Die (°C),Pump power (W),Card power (W)', '60,4,140')).toMatchObject({ 'Pump power': 'ignore', 'Card power': 'power' });
  });
  it('given by a person displace guesses', () => {
    expect(roles('Die (°C),Room (°C),Probe A (°C)', '60,22,23', { roles: { 'Probe A': 'ambient' } })).toEqual({
      Die: 'sensor',
      Room: 'ignore',
      'Probe A': 'ambient',
    });
    expect(roles('Die (°C),Board (°C)', '60,40', { roles: { Board: 'sensor' } })).toEqual({ Die: 'ignore', Board: 'sensor' });
  });
  it('leave guesses beside them where all are in sight', () => {
    expect(roles('Die (°C),Board (°C)', '60,40', { roles: { Board: 'sensor' }, keep_guesses: true })).toEqual({
      Die: 'sensor',
      Board: 'sensor',
    });
  });
  it('make the primary sensor one beside the guessed ones', () => {
    expect(roles('Die (°C),Board (°C)', '60,40', { sensor: 'Board' })).toEqual({ Die: 'sensor', Board: 'sensor' });
  });
});

describe('what cannot be read', () => {
  it.each([
    ['', 'the file is empty'],
    ['\0\u0001\u0002\u0003binary\0', 'not a text file'],
    ['Time,Die (°C)\n', 'a header but no row of readings'],
    ['just some words\nand more words\n', 'no line looks like readings'],
    ['Name,Die (°C),Room (°C)\na,41,22\nb,42,22\na,41,22\n', 'no column holds times'],
  ])('%j says so', (text, message) => {
    expect(() => read(text)).toThrow(LogError);
    expect(() => read(text)).toThrow(message);
  });
  it('a file without a temperature says which columns there are', () => {
    expect(() => reduceLogs([{ name: 'p.csv', bytes: encode(`Time,Power (W),Fan (RPM)\n${rows(9, (i) => `${i},140,1200`)}\n`) }])).toThrow(
      'p.csv, row 1: no column has a temperature of the part (found: Power, Fan)',
    );
  });

  const noise = fc.array(
    fc.constantFrom(
      ',',
      ';',
      '\t',
      '"',
      '\n',
      '\r\n',
      ' ',
      '1',
      '22.5',
      '1,5',
      'Time',
      'Die (°C)',
      '2026-06-01 10:00:00',
      '10:00:0',
      '-127',
      'N/A',
      'é',
      '\u0000',
      '1e400',
    ),
    { maxLength: 300 },
  );
  it('is refused with a sentence or read, never a crash', () => {
    fc.assert(
      fc.property(noise, (parts) => {
        try {
          const { reduction } = reduceLogs([{ name: 'x.csv', bytes: encode(parts.join('')) }]);
          expect(JSON.stringify(reduction)).not.toContain('NaN');
        } catch (error) {
          expect(error).toBeInstanceOf(LogError);
          expect((error as Error).message.split('\n')).toHaveLength(1);
        }
      }),
      { numRuns: 300 },
    );
  });
  it('holds for random bytes and for good files cut anywhere', () => {
    const good = encode(
      `Time,Die (°C),Ambient (°C),Power (W)\n${rows(400, (i) => `${i},${i > 60 && i < 330 ? 60 : 27}.${i % 10},22.1,${i > 60 && i < 330 ? 140 : 12}`)}\n`,
    );
    const either = fc.oneof(
      fc.uint8Array({ maxLength: 400 }),
      fc.integer({ min: 0, max: good.length }).map((n) => good.slice(0, n)),
    );
    fc.assert(
      fc.property(either, (bytes) => {
        try {
          reduceLogs([{ name: 'x.csv', bytes }]);
        } catch (error) {
          expect(error).toBeInstanceOf(LogError);
        }
      }),
      { numRuns: 150 },
    );
  });
});
