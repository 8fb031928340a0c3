import { describe, expect, it } from 'vitest';
import { findThrottling, throttleCauses } from './throttle';
import { ANY_AMBIENT, type Channel, type Trace } from './types';

const N = 600;
const t = Float64Array.from({ length: N }, (_, i) => i);
const load = { start_s: 0, end_s: N };

function channel(role: Channel['role'], value: (i: number) => number, more: Partial<Channel> = {}): Channel {
  const values = t.map((_, i) => value(i));
  return {
    name: role,
    file: 'a.csv',
    role,
    unit: null,
    t,
    values,
    clean: values,
    resolution: 0.1,
    rise: false,
    period_s: 1,
    missing: 0,
    spikes: 0,
    stuck: false,
    dead: false,
    ...{ died_s: null, labelled: true, guessed_f: false, doubtful_f: false, place: null, constant: false },
    ...more,
  };
}
const trace = (...channels: Channel[]): Trace => ({
  files: [],
  channels,
  drive: null,
  room: ANY_AMBIENT,
  clock_offset_s: {},
  correlated: {},
  samples: N,
  period_s: 1,
  duration_s: N - 1,
});
const share = (limit: number | null, ...channels: Channel[]) => findThrottling(trace(...channels), load, [load], limit).share(load);

describe('throttled samples', () => {
  const cool = channel('sensor', () => 70);
  const atLimit = channel('sensor', (i) => (i < 295 ? 80 : 91.5));
  it('where the flag says so, whatever the limit', () => {
    expect(
      share(
        null,
        cool,
        channel('throttle', (i) => (i >= 300 ? 1 : 0)),
      ),
    ).toBeCloseTo(0.5, 2);
  });
  it('not where a boost ends at full clock within 1 K of the limit, and where the clock falls with it', () => {
    const power = channel('power', (i) => (i < 300 ? 180 : 140));
    const full = channel('clock', () => 2100);
    expect(share(92, atLimit, power)).toBeCloseTo(0.5, 2);
    expect(share(92, atLimit, power, full)).toBe(0);
    expect(
      share(
        92,
        atLimit,
        power,
        channel('clock', (i) => (i < 300 ? 2100 : 1900)),
      ),
    ).toBeCloseTo(0.5, 2);
    const split = (clock: Channel) => throttleCauses(trace(atLimit, power, clock), 92)(300);
    expect(split(full)).toBe(false);
    expect(split(channel('clock', (i) => (i < 302 ? 2100 : 1900)))).toBe(true);
    // a near miss: 2 % of the clock is its governor's play
    expect(split(channel('clock', (i) => (i < 302 ? 2100 : 2060)))).toBe(false);
  });
  it('where the clock falls below 97 % with a sensor within 1 K of the limit', () => {
    const clock = channel('clock', (i) => (i < 300 ? 2100 : 1900));
    expect(share(92, atLimit, clock)).toBeCloseTo(0.5, 2);
    expect(share(93.5, atLimit, clock)).toBe(0);
    expect(share(92, cool, clock)).toBe(0);
  });
  it('not where the clock falls by less than 3 %', () => {
    expect(
      share(
        92,
        atLimit,
        channel('clock', (i) => (i < 300 ? 2100 : 2050)),
      ),
    ).toBe(0);
  });
  it('by power as by clock', () => {
    expect(
      share(
        92,
        atLimit,
        channel('power', (i) => (i < 300 ? 140 : 120)),
      ),
    ).toBeCloseTo(0.5, 2);
  });
  it('also below a lasting level that a cool boost went before', () => {
    const levels = [
      { start_s: 0, end_s: 100 },
      { start_s: 100, end_s: N },
    ];
    const power = channel('power', (i) => (i < 100 ? 190 : i < 300 ? 140 : 120));
    const found = findThrottling(trace(atLimit, power), load, levels, 92);
    expect(found.share({ start_s: 100, end_s: 290 })).toBe(0);
    expect(found.share({ start_s: 310, end_s: 590 })).toBe(1);
    expect(found.first(load)).toBe(300);
  });
  it('are unknown without a limit or a flag, and without anything to see them by', () => {
    expect(
      share(
        null,
        cool,
        channel('clock', () => 2100),
      ),
    ).toBeNull();
    expect(share(92, cool)).toBeNull();
  });
  it('a stuck or dead sensor at the limit proves nothing', () => {
    const clock = channel('clock', (i) => (i < 300 ? 2100 : 1900));
    expect(
      share(
        92,
        cool,
        channel('sensor', () => 92, { stuck: true }),
        clock,
      ),
    ).toBe(0);
  });
});

describe('causes of a change of level', () => {
  it('are the governor where a sensor is at the limit or the flag is up', () => {
    const hot = throttleCauses(trace(channel('sensor', (i) => (i > 280 ? 92 : 70))), 92);
    expect([hot(100), hot(300)]).toEqual([false, true]);
    const flagged = throttleCauses(
      trace(
        channel('sensor', () => 70),
        channel('throttle', (i) => (i >= 300 ? 1 : 0)),
      ),
      null,
    );
    expect([flagged(100), flagged(300)]).toEqual([false, true]);
  });
});
