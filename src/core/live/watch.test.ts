import { describe, expect, it } from 'vitest';
import { NORTH_BENCH } from '#simulator/rigs';
import type { SimulatedBench } from '#simulator/simulatedBench';
import { CHANNELS, followBench } from '../../../tests/simulatedLive';
import { beginState } from './follow';
import { LiveTrace } from './liveTrace';
import { preflight, type SourceHealth } from './preflight';
import { LIVE_DEFAULTS } from './types';
import { isLost, watch } from './watch';

const AT = 400;
const faulty = (change: (bench: SimulatedBench) => void, settings = {}) =>
  followBench(
    { idle_s: 60, most_k_per_min: 8, stop_c: 95, ambient_band_c: [20, 24], ...settings },
    {},
    (t, bench) => t === AT && change(bench),
    1500,
  ).alarms;

describe('limits under load', () => {
  it('a sound run raises none', () => {
    expect([...followBench({ idle_s: 60, most_k_per_min: 8, stop_c: 95, ambient_band_c: [20, 24] }).alarms.keys()]).toEqual([]);
  });
  it('a fan that stops is told within seconds, and that the load should go', () => {
    const alarm = faulty((b) => b.faults.add('fan_stall')).get('fan_stopped');
    expect(alarm).toMatchObject({ cut_off: true });
    expect(alarm?.at_s).toBeLessThan(AT + 10);
  });
  it('a rise that runs away is told before the hard limit is reached', () => {
    const alarms = faulty((b) => b.faults.add('fan_stall'), { fan_rpm: 0, most_k_per_min: 4, stop_c: 85 });
    expect(alarms.get('too_fast')?.at_s ?? 9999).toBeLessThan(alarms.get('too_hot')?.at_s ?? 9999);
    expect(alarms.get('too_hot')).toMatchObject({ cut_off: true });
  });
  it('throttling is told by the part itself, and by its clock where it says nothing', () => {
    expect(faulty((b) => b.faults.add('throttle'), { most_k_per_min: null }).has('throttled')).toBe(true);
    expect(faulty((b) => b.faults.add('throttle'), { most_k_per_min: null, limit_c: null }).has('throttled')).toBe(true);
  });
  it('an open door changes the room', () => {
    const alarms = faulty((b) => b.faults.add('door'));
    expect(alarms.has('ambient_jump')).toBe(true);
    expect(alarms.has('ambient_band')).toBe(true);
  });
});

describe('an alarm that is on', () => {
  const under = { ...beginState(0, LIVE_DEFAULTS), stage: 'settling' as const, t: 400, load_from_s: 0 };
  const settings = { ...LIVE_DEFAULTS, ambient_band_c: [20, 24] as [number, number], fan_rpm: 1200 };
  const codes = (room: number, fan: number, lasting: string[]) => {
    const made = new LiveTrace(CHANNELS);
    for (let t = 0; t <= 400; t++) {
      made.append('Room', t, t < 300 ? 22.5 : room);
      made.append('Fan', t, fan);
    }
    return watch(under, made, settings, [], new Set(lasting)).map((a) => a.code);
  };
  it('ends only some way inside its limit, where one that is off is not raised', () => {
    const all = ['fan_stopped', 'ambient_band', 'ambient_jump'];
    expect(codes(24.1, 590, [])).toEqual(all);
    expect(codes(23.9, 620, [])).toEqual([]);
    expect(codes(23.9, 620, all)).toEqual(all);
    expect(codes(23.5, 700, all)).toEqual([]);
  });
});

describe('a clock that fell at the limit', () => {
  it('throttles from 3 % on', () => {
    const codes = (clock: number) => {
      const made = new LiveTrace(CHANNELS);
      for (let t = 0; t < 200; t++) {
        made.append('Die 1', t, 91.5 + (t % 2) / 10);
        made.append('Clock', t, (t < 100 ? 2100 : clock) + (t % 2));
      }
      return watch({ ...beginState(0, LIVE_DEFAULTS), stage: 'settling', t: 200, load_from_s: 10 }, made, {
        ...LIVE_DEFAULTS,
        limit_c: 92,
      }).map((a) => a.code);
    };
    expect(codes(2030)).toContain('throttled');
    expect(codes(2045)).not.toContain('throttled');
  });
  it('does not where a boost ends at full clock, and a clock that a governor holds is not stuck', () => {
    const codes = (clock: (t: number) => number) => {
      const made = new LiveTrace(CHANNELS);
      for (let t = 0; t < 400; t++) {
        made.append('Die 1', t, 91.5 + (t % 2) / 10);
        made.append('Power', t, (t < 100 ? 180 : 140) + ((t * 7) % 5) / 10);
        made.append('Clock', t, clock(t));
      }
      return watch({ ...beginState(0, LIVE_DEFAULTS), stage: 'settling', t: 400, load_from_s: 10 }, made, {
        ...LIVE_DEFAULTS,
        limit_c: 92,
      }).map((a) => a.code);
    };
    expect(codes(() => 2100)).not.toContain('throttled');
    const held = codes((t) => (t < 150 ? 2000 + ((t * 7) % 5) : 1900));
    expect(held).toContain('throttled');
    expect(held.filter((c) => c.startsWith('stuck'))).toEqual([]);
  });
  it('a command has the time it takes at the speed of the bench before its load counts as not started', () => {
    const late = (lag_s: number, waited: number) => {
      const state = { ...beginState(0, LIVE_DEFAULTS), stage: 'idle' as const, t: 100 + waited, asked_s: 100 };
      return watch(state, new LiveTrace(CHANNELS), { ...LIVE_DEFAULTS, lag_s }).some((a) => a.code === 'no_start');
    };
    expect([late(0, 14), late(0, 16), late(90, 16), late(90, 104), late(90, 106)]).toEqual([false, true, false, false, true]);
  });
});

describe('sources', () => {
  const still = { ...beginState(0, LIVE_DEFAULTS), stage: 'settling' as const, t: 100, load_from_s: 0 };
  const trace = (stuck: boolean) => {
    const made = new LiveTrace(CHANNELS);
    for (let t = 0; t < 100; t++) {
      made.append('Die 1', t, stuck ? 50 : 50 + t / 20);
      made.append('Die 2', t, 51 + t / 20);
    }
    return made;
  };
  it('a sensor that stays while its neighbour moves is stuck; one that moves is not', () => {
    expect(watch(still, trace(true), LIVE_DEFAULTS).map((a) => a.code)).toEqual(['stuck:Die 1']);
    expect(watch(still, trace(false), LIVE_DEFAULTS)).toEqual([]);
  });
  it('one that flickered and then stays is stuck for as long as it stays; one that never flickered may be at rest', () => {
    const codes = (until: number, noise: number) => {
      const made = new LiveTrace(CHANNELS);
      for (let t = 0; t < until; t++) made.append('Power', t, t < 150 ? 140 + noise * (((t * 7) % 5) - 2) : 140.2);
      return watch({ ...still, t: until }, made, LIVE_DEFAULTS).map((a) => a.code);
    };
    expect([codes(190, 0.1), codes(230, 0.1), codes(900, 0.1)]).toEqual([[], ['stuck:Power'], ['stuck:Power']]);
    expect(codes(900, 0)).toEqual([]);
  });
  it('a silent one is lost when two of its readings did not come, one that is cut off at once', () => {
    expect([isLost(2.1, null, 1), isLost(2.3, null, 1), isLost(0.9, null, 0.1), isLost(1.1, null, 0.1)]).toEqual([
      false,
      true,
      false,
      true,
    ]);
    expect([isLost(4.9, null, 0.1, false), isLost(5.1, null, 0.1, false), isLost(11, null, 1, false)]).toEqual([false, true, true]);
    expect([isLost(0.2, 0.2, 5), isLost(0.4, 0.4, 5)]).toEqual([false, true]);
    expect(watch(still, trace(false), LIVE_DEFAULTS, [{ source: 'Meter', since_s: 80 }])[0].message).toContain(
      'Meter has not answered for 20 s',
    );
  });
});

describe('pre-flight check', () => {
  const sound: SourceHealth = { name: 'Meter', connected: true, problem: null, calibrated_until: '2027-01-01' };
  const settings = {
    ...LIVE_DEFAULTS,
    power_w: NORTH_BENCH.load_w,
    fan_rpm: 1200,
    ambient_band_c: [20, 24] as [number, number],
    first: { sensor_rise_k: 4, coolant_rise_k: null },
  };
  const reading = (die: number, room: number, fan: number, power: number) => {
    const trace = new LiveTrace(CHANNELS);
    for (let t = 0; t < 60; t++) {
      for (const c of CHANNELS)
        trace.append(
          c.name,
          t,
          { sensor: die, ambient: room, fan, power, clock: 600, throttle: 0 }[c.role as 'sensor'] +
            (c.role === 'sensor' ? (t % 3) * 0.1 : 0),
        );
    }
    return trace;
  };
  const states = (trace: LiveTrace, source = sound, conditioned: { done: boolean; message: string } | null = null) =>
    Object.fromEntries(preflight(trace, settings, 60, [source], '2026-11-26', conditioned).map((c) => [c.key, c.state]));
  it('all right where all is right', () => {
    expect(new Set(Object.values(states(reading(26, 22, 1200, 14))))).toEqual(new Set(['right']));
  });
  it.each([
    ['cooled', reading(31, 22, 1200, 14), sound],
    ['ambient', reading(29, 25, 1200, 14), sound],
    ['fan', reading(26, 22, 900, 14), sound],
    ['power', reading(26, 22, 1200, 139), sound],
    ['source:Meter', reading(26, 22, 1200, 14), { ...sound, calibrated_until: '2026-11-25' }],
    ['source:Meter', reading(26, 22, 1200, 14), { ...sound, problem: 'It calls itself something else.' }],
    ['sensor', new LiveTrace(CHANNELS), sound],
  ])('%s is told where it is wrong', (key, trace, source) => {
    expect(states(trace, source)[key]).toBe('wrong');
  });
  it('asks for the conditioning where the material needs one', () => {
    expect(states(reading(26, 22, 1200, 14), sound, { done: false, message: '2 of 5 cycles' }).conditioned).toBe('wrong');
  });
});
