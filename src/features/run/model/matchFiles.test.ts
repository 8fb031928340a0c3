import { describe, expect, it } from 'vitest';
import { type MatchPlace, matchFiles } from './matchFiles';

const hour = 3600 * 1000;
const places: MatchPlace = {
  specimens: [
    { id: 1, name: 'Loam White' },
    { id: 2, name: 'Wick 60' },
    { id: 3, name: 'Wick' },
  ],
  mounts: [
    { id: 11, specimen_id: 1, number: 1, made: 10 * hour },
    { id: 12, specimen_id: 1, number: 2, made: 20 * hour },
    { id: 21, specimen_id: 2, number: 1, made: 15 * hour },
  ],
};
const match = (name: string, began: number | null = null, pattern = '') => matchFiles([{ name, began }], places, pattern)[0];

describe('files find their mounts', () => {
  it.each([
    ['loam_white_m2_r3.csv', { specimen_id: 1, mount_id: 12, run_number: 3 }],
    ['LoamWhite mount 1 run 1.csv', { specimen_id: 1, mount_id: 11, run_number: 1 }],
    ['2026-06-01 wick-60 M1.tsv', { specimen_id: 2, mount_id: 21, run_number: null }],
    ['wick60-m01-r02.log', { specimen_id: 2, mount_id: 21, run_number: 2 }],
    ['wick_m4.csv', { specimen_id: 3, mount_id: null, mount_number: 4 }],
    ['loam white mount 7.csv', { specimen_id: 1, mount_id: null, mount_number: 7 }],
  ])('%s by its name', (name, where) => {
    expect(match(name)).toMatchObject(where);
  });
  it('by the page they were dropped on, or the mount that waits for its first run', () => {
    const here = { ...places, at_mount: 11 };
    const at = (name: string, where: MatchPlace) => matchFiles([{ name, began: null }], where)[0];
    expect(at('log 7.csv', here)).toMatchObject({ specimen_id: 1, mount_id: 11 });
    expect(at('loam white.csv', here)).toMatchObject({ mount_id: 11, because: 'dropped on the page of Loam White, mount 1' });
    // a name goes before the page
    expect(at('wick 60 m1.csv', here)).toMatchObject({ mount_id: 21 });
    const waits = { ...places, mounts: places.mounts.map((m) => ({ ...m, runs: m.id === 12 ? 0 : 2 })) };
    expect(at('loam white.csv', waits)).toMatchObject({ mount_id: 12, because: 'the name says Loam White; mount 2 has no run yet' });
    expect(at('log 7.csv', waits)).toMatchObject({ mount_id: 12, because: 'the only mount that has no run yet' });
    expect(at('log 7.csv', { ...waits, mounts: waits.mounts.map((m) => ({ ...m, runs: 0 })) }).mount_id).toBeNull();
  });
  it('by the time where the name says the specimen only, or nothing', () => {
    expect(match('loam white.csv', 19 * hour)).toMatchObject({ mount_id: 11 });
    expect(match('loam white.csv', 21 * hour)).toMatchObject({ mount_id: 12 });
    expect(match('log0001.csv', 16 * hour)).toMatchObject({ specimen_id: 2, mount_id: 21 });
    expect(match('log0001.csv', 90 * hour)).toMatchObject({
      specimen_id: null,
      because: expect.stringContaining('neither its name nor its time'),
    });
    expect(match('log0001.csv')).toMatchObject({ specimen_id: null, mount_id: null });
  });
  it('by a pattern of the person', () => {
    expect(match('x-1-2-Loam White.csv', null, '*-{mount}-{run}-{specimen}')).toMatchObject({
      specimen_id: 1,
      mount_id: 11,
      run_number: 2,
    });
    expect(match('Wick 60 (1).csv', null, '{specimen} ({mount})')).toMatchObject({ specimen_id: 2, mount_id: 21 });
    expect(match('other.csv', null, '{specimen} ({mount})')).toMatchObject({ specimen_id: null });
  });
  it('says what decided', () => {
    expect(match('loam_white_m2.csv').because).toBe('the name says Loam White, mount 2');
    expect(match('loam white mount 7.csv').because).toBe('the name says Loam White, mount 7, which is not there yet');
  });
});
