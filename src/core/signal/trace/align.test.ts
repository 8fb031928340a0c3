import { describe, expect, it } from 'vitest';
import { readLog } from '#core/signal/logs/readLog';
import { LogError } from '#core/signal/logs/types';
import { alignLog } from './align';

const encode = (text: string) => new TextEncoder().encode(text);

/** A log of one column that steps up at a time and down at another. */
function stepLog(
  header: string,
  from: number,
  to: number,
  length: number,
  value: (on: boolean, i: number) => string,
  time = (i: number) => String(i),
) {
  const rows = Array.from({ length }, (_, i) => `${time(i)},${value(i >= from && i < to, i)}`);
  return readLog(`${header}.csv`, encode(`Time,${header}\n${rows.join('\n')}\n`));
}
const warm = (on: boolean, i: number, from: number) => (on ? 60 - 30 * Math.exp(-(i - from) / 40) : 30).toFixed(2);
const die = stepLog('Die (°C)', 200, 700, 1000, (on, i) => warm(on, i, 200));

describe('clocks of two files', () => {
  it('are matched by load step and rate of rise', () => {
    for (const shift of [0, 37, -60]) {
      const power = stepLog('Power (W)', 200 - shift, 700 - shift, 900, (on) => (on ? '140' : '12'));
      const { offset_s, correlation } = alignLog(die, power);
      expect(Math.abs(offset_s - shift)).toBeLessThan(4);
      expect(correlation).toBeGreaterThan(0.4);
    }
  });
  it('are matched to a second or two in files of many hours, where not every lag can be tried', () => {
    const long = stepLog('Die (°C)', 4000, 15_000, 20_000, (on, i) => warm(on, i, 4000));
    const power = stepLog('Power (W)', 4000 - 1234, 15_000 - 1234, 18_000, (on) => (on ? '140' : '12'));
    const { offset_s, correlation } = alignLog(long, power);
    expect(Math.abs(offset_s - 1234)).toBeLessThan(4);
    expect(correlation).toBeGreaterThan(0.4);
  });
  it('are taken from absolute times where both have them', () => {
    const at = (start: number) => (i: number) => new Date(start + 1000 * i).toISOString();
    const a = stepLog('Die (°C)', 10, 20, 40, () => '30', at(Date.UTC(2026, 5, 1)));
    const b = stepLog('Room (°C)', 10, 20, 40, () => '22', at(Date.UTC(2026, 5, 1, 0, 0, 25)));
    expect(alignLog(a, b)).toEqual({ offset_s: 25, correlation: null });
  });
  it('are as given where a person says so', () => {
    expect(
      alignLog(
        die,
        stepLog('Room (°C)', 1, 2, 50, () => '22'),
        12.5,
      ),
    ).toEqual({ offset_s: 12.5, correlation: null });
  });
  it('cannot be matched where a file does not follow the load: that is asked', () => {
    const room = stepLog('Room (°C)', 1, 2, 600, (_, i) => (22 + (i % 3) / 100).toFixed(2));
    expect(() => alignLog(die, room)).toThrow(LogError);
    expect(() => alignLog(die, room)).toThrow('nothing in it follows the load');
    const flat = stepLog('Power (W)', 0, 0, 600, (_, i) => (12 + ((i * 7919) % 13) / 10).toFixed(1));
    expect(() => alignLog(die, flat)).toThrow('cannot be matched');
  });
  it('with and without a zone are not mixed in silence', () => {
    const zoned = stepLog(
      'Die (°C)',
      10,
      20,
      40,
      () => '30',
      (i) => new Date(1780300800000 + 1000 * i).toISOString(),
    );
    const zoneless = stepLog(
      'Room (°C)',
      10,
      20,
      40,
      () => '22',
      (i) => new Date(1780300800000 + 1000 * i).toISOString().replace('Z', ''),
    );
    expect(() => alignLog(zoned, zoneless)).toThrow(/time zone/);
  });
});
