import { describe, expect, it } from 'vitest';
import { agoWords, backupWarning } from './backupWords';

const HOUR = 3_600_000;
const NOW = Date.UTC(2026, 11, 1, 12);
const ago = (hours: number) => NOW - hours * HOUR;

describe('the warning of missing backups', () => {
  const facts = { newest: ago(30), store_made: ago(5000), problem: null, running_ms: 100 * HOUR };

  it('comes after three days, and not before', () => {
    expect(backupWarning({ ...facts, newest: ago(72) }, NOW)).toBeNull();
    expect(backupWarning({ ...facts, newest: ago(72.1) }, NOW)).toBe('The newest backup is 3 days old. See Backups in the settings.');
    expect(backupWarning({ ...facts, newest: ago(99), problem: 'the disk of /b is full' }, NOW)).toBe(
      'The newest backup is 4 days old: the disk of /b is full. See Backups in the settings.',
    );
  });

  it('counts from when the store was made where there is none', () => {
    expect(backupWarning({ ...facts, newest: null, store_made: ago(71) }, NOW)).toBeNull();
    expect(backupWarning({ ...facts, newest: null, store_made: ago(121) }, NOW)).toMatch(
      /^No backup was made since the store was, 5 days ago/,
    );
  });

  it('waits for an application that has just been started, unless it has failed already', () => {
    expect(backupWarning({ ...facts, newest: ago(500), running_ms: 0.9 * HOUR }, NOW)).toBeNull();
    expect(backupWarning({ ...facts, newest: ago(500), running_ms: 1.1 * HOUR }, NOW)).not.toBeNull();
    expect(backupWarning({ ...facts, newest: ago(500), running_ms: 0, problem: 'no room' }, NOW)).toContain('20 days old: no room.');
  });

  it('tells how long ago only under a day', () => {
    expect([0, 0.99, 1, 23.9, 24].map((h) => agoWords(ago(h), NOW))).toEqual(['0 min ago', '59 min ago', '1 h ago', '23 h ago', null]);
    // a clock that is a little ahead
    expect(agoWords(ago(-0.1), NOW)).toBe('0 min ago');
  });
});
