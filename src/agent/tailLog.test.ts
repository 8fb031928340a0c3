import { appendFileSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { readLog } from '#core/signal/logs/readLog';
import { CsvLog } from './readings/csv';
import { TailLog } from './tailLog';

const folder = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-tail-'));
const never = new AbortController().signal;

describe('a log that another program writes', () => {
  it('is given row by row, once, in the units of its channels, with what cannot be read left empty', async () => {
    const file = path.join(folder, 'grown.csv');
    writeFileSync(
      file,
      'Time;Die (°F);Room (°C);Power (mW);Note\n2026-06-02T10:00:00Z;212;21,5;95000;a\n2026-06-02T10:00:01Z;212;21,5;95000;a\n',
    );
    const said: string[] = [];
    const tail = new TailLog(file, (t) => said.push(t));
    const channels = await tail.channels(never);
    expect(channels.map(({ name, role, unit }) => [name, role, unit])).toEqual([
      ['Die', 'sensor', 'degC'],
      ['Room', 'ambient', 'degC'],
      ['Power', 'power', 'W'],
    ]);
    const first = tail.look();
    expect(first).toHaveLength(2);
    expect(first[0].t).toBe(Date.UTC(2026, 5, 2, 10) / 1000);
    expect(first[0].values.Die).toBeCloseTo(100, 9);
    expect(first[0].values).toMatchObject({ Room: 21.5, Power: 95 });
    expect(tail.look()).toEqual([]);
    appendFileSync(file, '2026-06-02T10:00:02Z;213,8;21,6;;b\n2026-06-02T10:00:03Z;214');
    const more = tail.look();
    expect(more).toHaveLength(1);
    expect(more[0].values).toMatchObject({ Room: 21.6, Power: null });
    appendFileSync(file, ';21,7;96000;c\n');
    expect(tail.look().map((r) => r.values.Power)).toEqual([96]);
    writeFileSync(file, 'Time;Die (°F);Room (°C);Power (mW);Note\n');
    expect(tail.look()).toEqual([]);
    expect(said).toEqual([`${file} became shorter: it was begun anew.`]);
  });

  it('is waited for until it has a first row', async () => {
    const file = path.join(folder, 'late.csv');
    const said: string[] = [];
    const waiting = new TailLog(file, (t) => said.push(t)).channels(never);
    setTimeout(() => writeFileSync(file, 'Time,Die (°C)\n'), 100);
    setTimeout(() => appendFileSync(file, '2026-06-02T10:00:00Z,40\n'), 400);
    setTimeout(() => appendFileSync(file, '2026-06-02T10:00:01Z,41\n'), 900);
    expect((await waiting).map((c) => c.name)).toEqual(['Die']);
    expect(said).toEqual([`${file} has no readings yet; waiting.`]);
  });
});

describe('a log that is none', () => {
  it('is said once, when it has grown three times and says nothing still', async () => {
    const file = path.join(folder, 'prose.txt');
    writeFileSync(file, 'once\nupon\na\ntime\n');
    const said: string[] = [];
    const tail = new TailLog(file, (t) => said.push(t));
    for (let i = 0; i < 5; i++) {
      expect(tail.look()).toEqual([]);
      appendFileSync(file, `there was ${i}\n`);
    }
    expect(said).toHaveLength(1);
    expect(said[0]).toMatch(/^prose\.txt/);
  });
});

describe('a recording into a file', () => {
  it('is a log that the application reads, with its roles and gaps', () => {
    const file = path.join(folder, 'out.csv');
    const channels = [
      { name: 'coresense Package id 0', unit: 'degC' as const },
      { name: 'Package power', unit: 'W' as const },
      { name: 'Odd, "name"', unit: 'V' as const },
      { name: 'Throttling', unit: null },
    ];
    const csv = new CsvLog(file, channels);
    for (let i = 0; i < 30; i++)
      csv.write(1_780_300_800 + i, {
        'coresense Package id 0': 40 + i / 8,
        'Package power': i === 3 ? null : 95.12345,
        'Odd, "name"': 1.1,
        Throttling: 0,
      });
    const log = readLog('out.csv', new Uint8Array(readFileSync(file)));
    expect(log.columns.map((c) => [c.name, c.role])).toEqual([
      ['coresense Package id 0', 'sensor'],
      ['Package power', 'power'],
      ['Odd, "name"', 'ignore'],
      ['Throttling', 'throttle'],
    ]);
    expect(log.columns[0].values[8]).toBe(41);
    expect(log.columns[1].values[3]).toBeNaN();
    expect(log.columns[1].values[4]).toBe(95.1235);
    expect(() => new CsvLog(file, channels)).toThrow('name another, or move it away');
  });
});
