import { mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import { beforeName, dailyName, dailyTime, dropBackups, keptOf, listBackups } from './keptBackups';

const DAY_MS = 86_400_000;
const RULE = { days: 7, weeks: 4, months: 3 };
const folder = mkdtempSync(path.join(tmpdir(), 'kept-'));
const put = (...names: string[]) => names.map((name) => writeFileSync(path.join(folder, name), 'x'));
afterEach(() => {
  for (const name of readdirSync(folder)) rmSync(path.join(folder, name));
});

describe('backups that are kept', () => {
  it('go far enough back on every day of a lab that makes one a day, and stay few', () => {
    let held = new Set<number>();
    const ages: number[] = [];
    const start = Date.UTC(2026, 0, 5, 12);
    for (let i = 0; i < 400; i++) {
      const now = start + i * DAY_MS;
      held = keptOf(
        [...held, now].map((t) => new Date(t)),
        RULE,
        new Date(now),
      );
      const has = (from: number, to: number) => [...held].some((t) => now - t >= from * DAY_MS && now - t <= to * DAY_MS);
      if (i < 100) continue;
      for (let day = 0; day < 7; day++) ages.push(Number(has(day, day)));
      for (let week = 0; week < 3; week++) ages.push(Number(has(7 * week, 7 * week + 7)));
      // the month before last is still there
      ages.push(Number(has(31, 92)));
      expect(held.size).toBeLessThanOrEqual(14);
    }
    expect(ages.every(Boolean)).toBe(true);
  });

  it('are never none, however old, and keep the newest of a day', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 2000 * 24 }), { minLength: 1, maxLength: 40 }), (hours) => {
        const now = new Date(Date.UTC(2026, 11, 1, 3));
        const times = hours.map((h) => new Date(now.getTime() - h * 3_600_000));
        const kept = keptOf(times, { days: 1, weeks: 0, months: 0 }, now);
        return kept.size === 1 && kept.has(Math.max(...times.map((t) => t.getTime())));
      }),
    );
    const noon = new Date('2026-06-02T12:00:00Z');
    const kept = keptOf([noon, new Date('2026-06-02T09:00:00Z'), new Date('2026-06-01T09:00:00Z')], { days: 2, weeks: 0, months: 0 }, noon);
    expect([...kept].map((t) => new Date(t).toISOString().slice(5, 13)).sort()).toEqual(['06-01T09', '06-02T12']);
  });

  it('bear the time in their name, and other files are left alone', async () => {
    const at = new Date('2026-06-02T03:04:05.678Z');
    expect(dailyName(at)).toBe('daily-2026-06-02T03-04-05Z.zip');
    expect(dailyTime(dailyName(at))?.toISOString()).toBe('2026-06-02T03:04:05.000Z');
    for (const other of ['lab.zip', 'daily-2026-06-02.zip', '../daily-2026-06-02T03-04-05Z.zip', 'daily-2026-06-02T03-04-05Z.zip.part'])
      expect(dailyTime(other)).toBeNull();
    const old = ['a', 'b', 'c', 'd', 'e'].map((name, i) => beforeName(name, new Date(Date.UTC(2025, i, 1))));
    put('lab.zip', 'notes.txt', dailyName(at), dailyName(new Date('2020-01-01T00:00:00Z')), ...old);
    for (const [i, name] of old.entries()) utimesSync(path.join(folder, name), 0, 1000 + i);
    put('daily-2026-05-31T03-04-05Z.zip.part', 'daily-2026-06-01T13-04-05Z.zip.part');
    await dropBackups(folder, RULE, new Date('2026-06-02T04:00:00Z'));
    expect(readdirSync(folder).sort()).toEqual(
      // of those before an upgrade the three newest, and a part that may still be written
      [...old.slice(2), dailyName(at), 'daily-2026-06-01T13-04-05Z.zip.part', 'lab.zip', 'notes.txt'].sort(),
    );
    expect((await listBackups(folder)).map((b) => b.name)).toEqual([dailyName(at)]);
    expect(await listBackups(path.join(folder, 'nothing'))).toEqual([]);
  });
});
