import { afterEach, describe, expect, it, vi } from 'vitest';
import { calendarDay } from './calendarDay';

describe('the day of a time', () => {
  afterEach(() => {
    vi.unstubAllEnvs();
  });
  it.each([
    ['Pacific/Auckland', '2026-06-05'],
    ['America/Los_Angeles', '2026-06-04'],
    ['UTC', '2026-06-04'],
  ])('is that of the zone of %s for an instant, and that of its own clock for a time without a zone', (zone, day) => {
    vi.stubEnv('TZ', zone);
    const at = Date.UTC(2026, 5, 4, 22, 30) / 1000;
    expect(calendarDay(at, true)).toBe(day);
    expect(calendarDay(at, false)).toBe('2026-06-04');
  });
});
