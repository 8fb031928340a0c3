import { describe, expect, it } from 'vitest';
import { NORTH_BENCH } from '#simulator/rigs';
import { CHANNELS, followBench } from '../../../tests/simulatedLive';
import { beginIdle, beginState, conditioning, follow, holdRun, markEvent, resumeRun, stopRun } from './follow';
import { LiveTrace } from './liveTrace';
import { LIVE_DEFAULTS, type LiveState } from './types';

describe('a live run of a bench that obeys', () => {
  const done = followBench({ cycles: 2, idle_s: 60 });
  it('goes from idle over load, settling and averaging to cool-down, twice, and says what comes next', () => {
    const cycle = ['idle', 'load', 'settling', 'averaging', 'cooldown'];
    expect(done.stages).toEqual(['preflight', ...cycle, ...cycle, 'finished']);
    expect(done.state.waits).toBe('Next: remount.');
    expect(done.alarms.size).toBe(0);
  });
  it('closes each cycle with its idle before and a minute of cool-down after', () => {
    expect(done.state.closed).toHaveLength(2);
    for (const c of done.state.closed) {
      const power = done.trace.series.get('Power')?.span(c.from_s, c.to_s);
      const loaded = power?.values.filter((v) => v > 70).length ?? 0;
      expect(power?.values[0]).toBeLessThan(20);
      expect(power?.values.at(-1)).toBeLessThan(20);
      expect(loaded).toBeGreaterThan(400);
      expect(c.reason).toBeNull();
    }
  });
  it('starts the second cycle no warmer than a kelvin above the first', () => {
    const { first, start } = done.state;
    expect(Math.abs((start?.sensor_rise_k ?? 99) - (first?.sensor_rise_k ?? 0))).toBeLessThanOrEqual(1);
  });
  it('averages a full window that was flat', () => {
    const [one, two] = done.state.closed;
    expect(Math.abs((one.rise_k ?? 0) - (two.rise_k ?? 99))).toBeLessThan(0.3);
  });
});

describe('what can come in between', () => {
  it('a creeping run keeps its window open, and ends later than one whose creep does not matter', () => {
    // a slow sink, and a margin so small that what is left still matters
    const rig = { ...NORTH_BENCH, ladder: NORTH_BENCH.ladder.map((n, i) => (i === 3 ? { ...n, capacity: 3 * n.capacity } : n)) };
    let told = 0;
    const at = (_t: number, _b: unknown, state: LiveState) => {
      if (state.waits.startsWith('Flat, but up to')) told++;
    };
    const fine = followBench({ margin_k: 0.4, idle_s: 60 }, { rig }, at);
    const coarse = followBench({ margin_k: 4, idle_s: 60 }, { rig }, at);
    const lasts = (r: typeof fine) => (r.state.closed[0]?.to_s ?? 0) - (r.state.closed[0]?.from_s ?? 0);
    expect(told).toBeGreaterThan(0);
    expect(lasts(fine)).toBeGreaterThanOrEqual(lasts(coarse) + 60);
  });
  it('a pre-warmed run that comes from above is judged by the same slope', () => {
    const slopes: number[] = [];
    const warm = followBench({ idle_s: 30 }, {}, (t, bench, state) => {
      // heated with the fan held, until it stands above where it ends
      if (t === 100) bench.faults.add('fan_stall');
      if (t === 400) bench.faults.delete('fan_stall');
      if (state.stage === 'averaging' && state.window) slopes.push(state.window.slope);
    });
    expect(slopes[0]).toBeLessThan(-0.05);
    expect(warm.state.closed[0].rise_k).toBeGreaterThan(30);
  });
  it('a load that falls away ends the cycle with its reason', () => {
    const lost = followBench({ idle_s: 60 }, {}, (t, bench) => {
      if (t > 300) bench.switchLoad(false);
    });
    expect(lost.state.closed[0].reason).toBe('The run ended before it was steady.');
  });
  it('what rose in the idle and was gone within half a minute is no load: the idle is read anew, and the run is that of a bench that kept still', () => {
    const words = new Set<string>();
    const burst = (lasts: number) =>
      followBench({ idle_s: 60 }, {}, (t, bench, state) => {
        words.add(state.waits);
        if (t === 40) bench.switchLoad(true);
        if (t === 40 + lasts) bench.switchLoad(false);
      });
    const brief = burst(12);
    expect(brief.state.closed.map((c) => c.reason)).toEqual([null]);
    expect(brief.stages.slice(0, 5)).toEqual(['preflight', 'idle', 'load', 'idle', 'load']);
    expect(brief.state.closed[0].from_s).toBeGreaterThan(52);
    expect(
      [...words].some((w) => /^The drive rose for 1\d s and fell again: the idle is read anew\. Reading the idle for 59 s more\./.test(w)),
    ).toBe(true);
    // a little longer, and it was a load that ended early
    expect(burst(35).state.closed[0].reason).toBe('The run ended before it was steady.');
  });
  it('a load that was asked for and falls away at once ends the cycle, and is not switched on again', () => {
    let on = 0;
    const tripped = followBench({ idle_s: 60 }, {}, (t, bench, state) => {
      if (state.stage === 'load' && on === 0) on = t;
      if (on > 0 && t > on + 5) bench.switchLoad(false);
    });
    expect(tripped.stages).toEqual(['preflight', 'idle', 'load', 'cooldown', 'finished']);
    expect(tripped.state.closed[0].reason).toBe('The run ended before it was steady.');
  });
  it('a load that fails its first start is not switched on again by itself', () => {
    const stuck = followBench({ idle_s: 60 }, {}, (t, bench) => t === 1 && bench.faults.add('no_start'), 600);
    expect(stuck.state.stage).toBe('idle');
    expect(stuck.alarms.get('no_start')?.at_s).toBeLessThan(120);
  });
  it('a load that stays on is switched off again, and told', () => {
    let off = 0;
    const stubborn = followBench({ idle_s: 60 }, {}, (t, bench, state) => {
      if (state.stage === 'cooldown') off ||= t;
      if (off && t < off + 12) bench.switchLoad(true);
    });
    expect(stubborn.state.stage).toBe('finished');
    expect(stubborn.bench.isLoaded).toBe(false);
    const held = followBench(
      { idle_s: 60 },
      {},
      (_t, bench, state) => {
        if (state.stage === 'cooldown') bench.switchLoad(true);
      },
      1600,
    );
    expect(held.alarms.get('still_on')?.message).toContain('Switch it off by hand');
    expect(followBench({ idle_s: 60 }).alarms.has('still_on')).toBe(false);
  });
  it('a run without a switched load tells when to start it and when to end it', () => {
    const words = new Set<string>();
    followBench({ idle_s: 60, switched: false }, {}, (_t, bench, state) => {
      words.add(state.waits);
      if (state.waits === 'Start the load now.') bench.switchLoad(true);
      if (state.waits === 'Done: end the load.') bench.switchLoad(false);
    });
    expect(words).toContain('Start the load now.');
    expect(words).toContain('Done: end the load.');
  });
  it('never steady within the longest load: it ends there, not steady', () => {
    const short = followBench({ idle_s: 60, most_load_s: 200 });
    expect(short.state.closed[0].reason).toBe('The run ended before it was steady.');
  });
  it('an attended test goes on to its events, each with the load it fell in', () => {
    const { state, trace } = followBench({ kind: 'limit_test', idle_s: 60, fan_rpm: 0 }, {}, () => {}, 600);
    expect(state.stage).toBe('settling');
    const marked = markEvent(state, trace, 'first warning', 500);
    expect(marked.marks[0]).toMatchObject({ event: 'first warning', at_s: 500 });
    expect(marked.marks[0].load_w).toBeCloseTo(140, -1);
    const stopped = stopRun(marked, 'Stopped by hand.', LIVE_DEFAULTS, trace);
    expect(stopped.closed[0].reason).toBe('Stopped by hand.');
  });
  it('a run stopped before its load leaves no run', () => {
    const trace = new LiveTrace(CHANNELS);
    const idle = beginIdle(beginState(0, LIVE_DEFAULTS));
    expect(stopRun(idle, 'Stopped by hand.', LIVE_DEFAULTS, trace).closed).toEqual([]);
  });
});

describe('a break in the readings', () => {
  it('does not end the load, and the window stays shut until it is full again', () => {
    const whole = followBench({ idle_s: 60 });
    const settings = { ...LIVE_DEFAULTS, limit_c: 92, power_w: 140, fan_rpm: 1200, switched: true, idle_s: 60 };
    // the same readings with forty seconds left out, followed from the stored state before the gap
    const from = (whole.state.closed[0].from_s ?? 0) + 200;
    const trace = new LiveTrace(CHANNELS);
    let state = beginIdle(beginState(20, settings));
    const stages = new Set<string>();
    for (let t = 21; t < whole.state.closed[0].to_s; t++) {
      const gap = t >= from && t < from + 40;
      if (!gap) {
        for (const c of CHANNELS) {
          const { values } = whole.trace.series.get(c.name)?.span(t, t + 0.5) ?? { values: [] };
          if (values.length > 0) trace.append(c.name, t, values[0]);
        }
      }
      state = follow(state, trace, settings, t).state;
      if (gap) stages.add(state.stage);
    }
    expect([...stages].every((s) => s === 'load' || s === 'settling')).toBe(true);
    expect(state.stage).toBe('cooldown');
  });
});

describe('a run whose load was switched off while nobody watched', () => {
  const settings = { ...LIVE_DEFAULTS, idle_s: 10, switched: true, cycles: 2 };
  const cold = new LiveTrace(CHANNELS);
  for (let t = 0; t < 600; t++)
    for (const c of CHANNELS)
      cold.append(c.name, t, { sensor: 26, ambient: 22, fan: 1200, power: 14, clock: 600, throttle: 0 }[c.role as 'sensor']);
  const asked = (state: ReturnType<typeof beginState>, from: number) => {
    const actions: string[] = [];
    for (let t = from; t < from + 60; t++) {
      const next = follow(state, cold, settings, t);
      state = next.state;
      actions.push(...next.actions);
    }
    return { state, actions };
  };
  it('switches nothing on, whichever stage it stands in, until a person lets it go on', () => {
    const idle = beginIdle(beginState(100, settings));
    expect(asked(idle, 101).actions).toEqual(['load_on']);
    const held = asked(holdRun(idle, 'Nobody watched.'), 101);
    expect(held.actions).toEqual([]);
    expect(held.state.waits).toBe('Nobody watched.');
    expect(asked(resumeRun(held.state), 161).actions).toEqual(['load_on']);
    const cooling = holdRun({ ...idle, stage: 'cooldown', load_from_s: 100, load_to_s: 110 }, 'Nobody watched.');
    const cooled = asked(asked(cooling, 200).state, 260);
    expect([cooled.actions, cooled.state.stage, cooled.state.closed[0].reason]).toEqual([[], 'cooldown', 'Nobody watched.']);
    // seen to be off ten seconds after it came on: its cycle ends there, where that of a burst nobody asked for would begin anew
    const trace = new LiveTrace(CHANNELS);
    for (let t = 0; t < 130; t++) trace.append('Power', t, t > 100 && t < 105 ? 140 : 14);
    const brief: LiveState = { ...idle, stage: 'load', since_s: 101, load_from_s: 101, idle_w: 14 };
    const stageAfter = (state: LiveState) => follow(state, trace, settings, 115).state.stage;
    expect([stageAfter(brief), stageAfter(holdRun(brief, 'Nobody watched.'))]).toEqual(['idle', 'cooldown']);
  });
});

describe('a part that is warmer than before its first run', () => {
  const settings = { ...LIVE_DEFAULTS, idle_s: 10, cycles: 2 };
  const first = { sensor_rise_k: 4, coolant_rise_k: null };
  /** Words after ten minutes of idle, for a rise that falls to an end. */
  const wordsAt = (end: number, above: number, tau_s: number) => {
    const trace = new LiveTrace(CHANNELS);
    for (let t = 0; t < 600; t++) {
      const sensor = 22 + end + above * Math.exp(-t / tau_s) + 0.05 * Math.sin(7.3 * t);
      for (const c of CHANNELS)
        trace.append(c.name, t, { sensor, ambient: 22, fan: 1200, power: 14, clock: 600, throttle: 0 }[c.role as 'sensor']);
    }
    let state: LiveState = { ...beginIdle(beginState(0, settings)), first };
    for (let t = 1; t < 600; t += 5) state = follow(state, trace, settings, t).state;
    return state.waits;
  };
  it('is waited for while it cools, be it slowly', () => {
    expect(wordsAt(4, 30, 400)).toMatch(/^Cooling down: 7\.0 K above the start of the mount's first run\.$/);
    // near misses: half an hour to one time constant, and little above what is alike
    expect(wordsAt(4, 8, 1800)).toMatch(/^Cooling down/);
    expect(wordsAt(4, 3, 1200)).toMatch(/^Cooling down/);
  });
  it('is not waited for in vain where it idles warmer than it did', () => {
    expect(wordsAt(9.1, 20, 60)).toMatch(/^It hardly cools any further: 5\.1 K above the start of the mount's first run/);
    expect(wordsAt(6, 0, 60)).toMatch(/^It hardly cools any further/);
    expect(wordsAt(4.9, 0, 60)).not.toMatch(/cools/);
  });
});

describe('conditioning cycles', () => {
  it.each([1])('end once less than a quarter of the margin is left, never before (bench %i)', (seed) => {
    const settings = { kind: 'conditioning' as const, cycles: 20, idle_s: 30, run_sd_k: 0.04, margin_k: 1 };
    const gain = 0.012 + 0.004 * seed;
    const tau = 900 + 250 * seed;
    const done = followBench(settings, { seed, conditioning: { gain_k_per_w: gain, tau_s: tau } }, () => {}, 200_000);
    expect(done.stages.at(-1)).toBe('finished');
    const loads = done.state.closed.map((c) => (c.to_s - c.from_s - 90) as number);
    let hot = 0;
    const truth = loads.findIndex((s) => {
      hot += s;
      return NORTH_BENCH.load_w * gain * Math.exp(-hot / tau) < 0.25;
    });
    // five cycles at least, and some that show that no slower stage follows
    const late = done.state.closed.length - 1 - (truth < 0 ? loads.length : truth);
    expect(late).toBeGreaterThanOrEqual(0);
    expect(late).toBeLessThanOrEqual(10);
    expect(conditioning(done.state, { ...LIVE_DEFAULTS, ...settings }).conditioned).toBe(true);
  });
});
