import { describe, expect, it } from 'vitest';
import { reduceLogs } from './reduceLogs';

const log = (header: string, row: (s: number, loaded: boolean) => (string | number)[], to = 900) => ({
  name: 'box.csv',
  bytes: new TextEncoder().encode([header, ...Array.from({ length: to / 5 + 1 }, (_, i) => row(5 * i, i >= 24).join(','))].join('\n')),
});

describe('a log without a temperature of the part', () => {
  const box = log('Time / s,Room / °C,Exhaust / °C,Power / W,Fan / rpm,Sound level / dB', (s, loaded) => [
    ...[s, 22, loaded ? 31 : 23, loaded ? 60 : 8, loaded ? 1500 : 700],
    (loaded ? 38 : 28) + 0.2 * Math.sin(s),
  ]);
  it('is refused where a rise is wanted, in words', () => {
    expect(() => reduceLogs([box])).toThrow(/no column has a temperature of the part/);
  });
  it('gives its other figures at the end of the load where none is wanted', () => {
    const { reduction } = reduceLogs([box], {}, { rise_wanted: false });
    expect(reduction).toMatchObject({ valid: true, rise_k: null, power_w: 60, fan_rpm: 1500, sensors: [] });
    expect(reduction.noise_db).toBeCloseTo(38, 1);
    expect(reduction.exhaust_rise_k).toBeCloseTo(9, 6);
    expect(reduction.window).toEqual({ start_s: expect.any(Number), end_s: expect.any(Number) });
    expect((reduction.window?.end_s ?? 0) - (reduction.window?.start_s ?? 0)).toBe(120);
    expect(reduction.findings.filter((f) => f.severity === 'reject')).toEqual([]);
  });
  it('of one level alone is averaged as a whole, and says so', () => {
    const quiet = log('Time / s,Sound level / dB', (s) => [s, 31 + 0.1 * Math.sin(s)]);
    const { reduction } = reduceLogs([quiet], {}, { rise_wanted: false });
    expect(reduction.noise_db).toBeCloseTo(31, 1);
    expect(reduction.valid).toBe(true);
    expect(reduction.findings.map((f) => [f.code, f.severity])).toContainEqual(['no_load', 'note']);
  });
  it('changes nothing of a log that has one', () => {
    const card = log('Time / s,Room / °C,Die / °C,Power / W', (s, loaded) => [
      s,
      22,
      (28 + (loaded ? 40 * (1 - Math.exp(-(s - 120) / 40)) : 0) + 0.02 * Math.sin(s)).toFixed(2),
      loaded ? 100 : 10,
    ]);
    const [wanted, not] = [true, false].map((rise_wanted) => reduceLogs([card], {}, { rise_wanted }).reduction);
    expect(not.rise_k).toBe(wanted.rise_k);
    expect([wanted.valid, not.valid]).toEqual([true, true]);
  });
});
