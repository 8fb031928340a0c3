import { describe, expect, it } from 'vitest';
import { writeMoment } from './moments';

describe('a moment in the format of its reader', () => {
  const noon = new Date('2026-06-02T12:05:00Z');
  const night = new Date('2026-12-31T23:30:00Z');
  it.each([
    [noon, 'minute', { zone: 'UTC' }, '2026-06-02 12:05'],
    [noon, 'minute', { zone: 'UTC', dates: 'dmy', clock: '12' }, '2 Jun 2026 12:05 PM'],
    [noon, 'day', { zone: 'UTC', dates: 'mdy' }, 'Jun 2, 2026'],
    // midnight is 12 AM, and a zone may be in the next year already
    [night, 'minute', { zone: 'Europe/Zurich', clock: '12' }, '2027-01-01 12:30 AM'],
    [night, 'minute', { zone: 'America/New_York' }, '2026-12-31 18:30'],
  ] as const)('%s to the %s by %o is %s', (at, to, by, words) => {
    expect(writeMoment(at, to, by)).toBe(words);
  });
});
