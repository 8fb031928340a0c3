import { describe, expect, it } from 'vitest';
import { reduceTyped } from './typed';
import { parseReading, type TypedReadings } from './typedReading';

const codes = (r: { findings: { code: string }[] }) => r.findings.map((f) => f.code);

describe('one comma before three digits', () => {
  it('is asked about where both readings are possible, and read where only one is', () => {
    expect(parseReading('1,234', 'score')).toBe('Score: "1,234" may be 1234 or 1.234; type it without a comma.');
    expect(parseReading('1,234', 'power_w')).toMatch(/may be 1234 or 1\.234/);
    expect(parseReading('2,100', 'clock_mhz')).toMatchObject({ value: 2100, resolution: 1 });
    expect(parseReading('1,200 rpm', 'fan_rpm')).toMatchObject({ value: 1200 });
    expect(parseReading('71,234', 'mean_c')).toMatchObject({ value: 71.234, resolution: 0.001 });
    // a near miss on either side
    expect(parseReading('1,23', 'score')).toMatchObject({ value: 1.23 });
    expect(parseReading('1234', 'score')).toMatchObject({ value: 1234 });
  });
});

describe('readings from a display', () => {
  it.each([
    ['71.2', 'mean_c', { value: 71.2, resolution: 0.1 }],
    ['71,25 °C', 'mean_c', { value: 71.25, resolution: 0.01 }],
    ['71', 'mean_c', { value: 71, resolution: 1 }],
    ['2.1 GHz', 'clock_mhz', { value: 2100, resolution: 100 }],
    ['140500 mW', 'power_w', { value: 140.5, resolution: 0.001 }],
    ['4321', 'score', { value: 4321, resolution: 1 }],
  ] as const)('%s', (text, quantity, reading) => {
    const read = parseReading(text, quantity);
    expect(read).toMatchObject({ value: expect.closeTo(reading.value, 9), resolution: expect.closeTo(reading.resolution, 9) });
  });
  it('°C and °F typed together must agree within their last digits', () => {
    expect(parseReading('71.2 °C / 160 °F', 'mean_c')).toMatchObject({ value: 71.2, resolution: 0.1 });
    expect(parseReading('71 °C / 159.8 °F', 'mean_c')).toMatchObject({
      value: expect.closeTo(71, 9),
      resolution: expect.closeTo(0.1 / 1.8, 9),
    });
    expect(parseReading('71.2 °C / 165 °F', 'mean_c')).toBe(
      'Mean of the sensors: the two readings differ by 2.7 K, which their last digits do not explain; one of them is a misreading.',
    );
  });
  it.each([
    ['warm', 'mean_c', 'is no reading'],
    ['71 W', 'mean_c', '"W" is no unit of it'],
    ['12 °C', 'score', 'it has none'],
    ['140 / 141', 'power_w', 'two numbers are typed'],
    ['1 2 3', 'mean_c', 'is no reading'],
  ] as const)('%s for %s is told in a sentence', (text, quantity, sentence) => {
    expect(parseReading(text, quantity)).toContain(sentence);
  });
  it('nothing typed is nothing said', () => {
    expect(parseReading('  ', 'fan_rpm')).toBeNull();
  });
});

describe('ranges and times', () => {
  it('a clock that wavers is the middle of its range, as wide as that', () => {
    expect(parseReading('2100–2400', 'clock_mhz')).toMatchObject({ value: 2250, resolution: 301 });
    expect(parseReading('2.1-2.4 GHz', 'clock_mhz')).toMatchObject({ value: 2250, resolution: 400 });
    expect(parseReading('2400 to 2100', 'clock_mhz')).toContain('the lower end comes first');
    // a temperature is one reading, and a minus is no range
    expect(parseReading('61-64', 'mean_c')).toContain('one of them is a misreading');
    expect(parseReading('-4', 'room_c')).toMatchObject({ value: -4 });
  });
  it('a stopwatch reads minutes and hours, a frame in ms', () => {
    expect(parseReading('1:35', 'run_time_s')).toMatchObject({ value: 95, resolution: 1 });
    expect(parseReading('1:02:05.5', 'run_time_s')).toMatchObject({ value: 3725.5, resolution: 0.1 });
    expect(parseReading('95', 'run_time_s')).toMatchObject({ value: 95 });
    expect(parseReading('3 min', 'run_time_s')).toMatchObject({ value: 180, resolution: 60 });
    expect(parseReading('16.7', 'frame_time_s')).toMatchObject({ value: expect.closeTo(0.0167, 9) });
    expect(parseReading('45 %', 'fan_pct')).toMatchObject({ value: 45 });
    expect(parseReading('41.2 K', 'rise_k')).toMatchObject({ value: 41.2, resolution: expect.closeTo(0.1, 9) });
  });
});

describe('a typed run', () => {
  const full: TypedReadings = {
    mean_c: { value: 66.2, resolution: 0.1 },
    max_c: { value: 68, resolution: 1 },
    hottest_c: { value: 67.9, resolution: 0.1 },
    coldest_c: { value: 64.3, resolution: 0.1 },
    idle_c: { value: 30, resolution: 1 },
    room_c: { value: 22, resolution: 1 },
    power_w: { value: 140, resolution: 1 },
    score: { value: 4200, resolution: 1 },
  };
  it('rests on its readings, with the steps of the displays as its uncertainty', () => {
    const run = reduceTyped(full, false);
    expect(run.rise_k).toBeCloseTo(44.2, 9);
    expect(run.se_k).toBeCloseTo(Math.hypot(0.1, 1) / Math.sqrt(12), 9);
    expect(run).toMatchObject({ valid: true, steady: false, censored: false, throttled_share: 0 });
    expect(run.spread_k).toBeCloseTo(3.6, 9);
    expect(run.r_k_per_w).toBeCloseTo(44.2 / 140, 9);
    expect(run.performance?.score_per_w).toBeCloseTo(30, 9);
    expect(codes(run)).toEqual(['read_by_hand', 'ambient_typed']);
  });
  it('follows the school of its study, and says so where that was not read', () => {
    expect(reduceTyped(full, null, { value: 'peak' }).rise_k).toBeCloseTo(46, 9);
    expect(reduceTyped(full, null, { aggregate: 'hottest' }).rise_k).toBeCloseTo(45.9, 9);
    const fitted = reduceTyped(full, null, { value: 'fitted' });
    expect(fitted).toMatchObject({ rise_k: null, valid: false, throttled_share: null });
    expect(codes(fitted)).toContain('value_missing');
  });
  it('stands without a room where its study compares temperatures as they were read', () => {
    const { room_c: _, ...rest } = full;
    const run = reduceTyped(rest, false, { absolute: true });
    expect(run).toMatchObject({ rise_k: 66.2, valid: true, absolute: true, r_k_per_w: null });
    expect(run.se_k).toBeCloseTo(0.1 / Math.sqrt(12), 9);
    expect(run.findings.find((f) => f.code === 'ambient_missing')?.severity).toBe('warn');
  });
  it('takes a rise that was read as such where its temperatures were not', () => {
    const run = reduceTyped({ rise_k: { value: 41.2, resolution: 0.1 }, power_w: { value: 100, resolution: 1 } }, false);
    expect(run).toMatchObject({ rise_k: 41.2, valid: true });
    expect(run.r_k_per_w).toBeCloseTo(0.412, 9);
    expect(codes(run)).toEqual(['read_by_hand']);
    // where both are there, the temperatures stand
    expect(reduceTyped({ ...full, rise_k: { value: 41.2, resolution: 0.1 } }, false).rise_k).toBeCloseTo(44.2, 9);
  });
  it('keeps named parts with their rises, events, exhaust, times and shares', () => {
    const parts = [
      { name: 'Memory', reading: { value: 71, resolution: 1 } },
      { name: 'Regulator', reading: { value: 84, resolution: 1 } },
    ];
    const run = reduceTyped(
      {
        room_c: { value: 21, resolution: 1 },
        exhaust_c: { value: 33, resolution: 1 },
        run_time_s: { value: 95, resolution: 1 },
        frame_time_s: { value: 0.016, resolution: 0.001 },
        throttle_pct: { value: 0.4, resolution: 0.1 },
        mean_c: { value: 75, resolution: 1 },
      },
      null,
      { aggregate: 'named', sensor: 'Regulator' },
      { parts, events: [{ event: 'shut-off', s: 95, reached: false }] },
    );
    expect(run.sensors.map((s) => [s.name, s.rise_k])).toEqual([
      ['Memory', 50],
      ['Regulator', 63],
    ]);
    expect(run).toMatchObject({ rise_k: 63, spread_k: 13, exhaust_rise_k: 12, throttled_share: 0.004, censored: false });
    expect(run.performance).toMatchObject({ run_time_s: 95, frame_time_ms: 16 });
    expect(run.times_to).toEqual([{ event: 'shut-off', s: 95, reached: false }]);
    // over half a per cent of the time it is a lower bound
    expect(reduceTyped({ ...full, throttle_pct: { value: 0.6, resolution: 0.1 } }, null)).toMatchObject({ censored: true, valid: false });
  });
  it('is complete without a temperature where its study asks for none', () => {
    const run = reduceTyped({ score: { value: 900, resolution: 1 } }, null, { rise_wanted: false });
    expect(run).toMatchObject({ valid: true, rise_k: null });
    expect(codes(run)).toEqual(['read_by_hand']);
    expect(reduceTyped({ score: { value: 900, resolution: 1 } }, null)).toMatchObject({ valid: false });
  });
  it('is a lower bound where the part throttled', () => {
    const run = reduceTyped(full, true);
    expect(run).toMatchObject({ censored: true, valid: false, r_valid: true });
    expect(codes(run)).toContain('throttled');
  });
  it('has no rise without a room, and doubts what cannot be', () => {
    const { room_c: _, ...rest } = full;
    expect(reduceTyped(rest, false)).toMatchObject({ rise_k: null, valid: false });
    expect(codes(reduceTyped({ ...full, mean_c: { value: 151, resolution: 1 } }, false))).toContain('unit_suspect');
    expect(codes(reduceTyped({ ...full, max_c: { value: 90, resolution: 1 } }, false, { limit_c: 92 }))).toContain('near_limit');
    expect(codes(reduceTyped(full, false, { power_w: 130 }))).toContain('power_differs');
    expect(codes(reduceTyped(full, false, { power_w: 141 }))).not.toContain('power_differs');
  });
});
