import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { type Held, HOLD_DEFAULTS, HoldPower } from './holdPower';

interface Machine {
  idle_w: number;
  /** added at full load, W */
  full_w: number;
  /** leakage, share per kelvin above 40 °C */
  leakage: number;
  /** more at the beginning, for some seconds */
  boost: { share: number; s: number };
  /** K/W and s from power to temperature */
  resistance: number;
  tau_s: number;
  /** above this temperature the load is cut back, °C */
  throttle_c: number;
  /** noise of a reading as a share, and how often the machine does something else by itself */
  noise: number;
  background_w: number;
}

/** A machine under a load that does as it is told, read at a rate; gives the mean power over the last 120 s of ten minutes. */
function hold(machine: Machine, target_w: number, hz: number, seed: number): { mean: number; states: Held['state'][]; last: Held } {
  const random = seededRandom(seed);
  const holder = new HoldPower({ ...HOLD_DEFAULTS, target_w });
  const dt = 1 / hz;
  let duty = 0;
  let temperature = 30;
  let background = 0;
  let held: Held = { duty: 0, mean_w: null, state: 'starting' };
  const states: Held['state'][] = [];
  const window: number[] = [];
  const power = (t: number) => {
    background += (dt / 5) * -background + machine.background_w * Math.sqrt(dt / 5) * random.normal();
    const boost = t < machine.boost.s ? 1 + machine.boost.share : 1;
    const throttled = temperature > machine.throttle_c ? Math.max(0.4, 1 - 0.1 * (temperature - machine.throttle_c)) : 1;
    // a load does not add in proportion: the first cores cost most
    const load = machine.full_w * duty ** 0.85 * boost * throttled;
    return (machine.idle_w + Math.max(0, background) + load) * (1 + machine.leakage * Math.max(0, temperature - 40));
  };
  for (let i = -10 * hz; i < 600 * hz; i++) {
    const t = i * dt;
    const true_w = power(t);
    temperature += (dt / machine.tau_s) * (25 + machine.resistance * true_w - temperature);
    const read_w = true_w * (1 + machine.noise * random.normal());
    if (i < 0) {
      holder.noteIdle(read_w);
      continue;
    }
    held = holder.step(t, read_w);
    duty = Math.round(1000 * held.duty) / 1000;
    states.push(held.state);
    if (t >= 480) window.push(true_w);
  }
  return { mean: window.reduce((a, b) => a + b, 0) / window.length, states, last: held };
}

const MACHINE: Machine = {
  ...{ idle_w: 18, full_w: 130, leakage: 0.002, boost: { share: 0.25, s: 28 }, resistance: 0.35, tau_s: 40 },
  ...{ throttle_c: 95, noise: 0.01, background_w: 1.5 },
};

describe('a power that is held', () => {
  it.each(Array.from({ length: 20 }, (_, i) => i + 1))('has a mean within half a percent of its target in the window (seed %i)', (seed) => {
    const random = seededRandom(1000 + seed);
    const machine = {
      ...MACHINE,
      idle_w: 5 + 30 * random.uniform(),
      full_w: 80 + 150 * random.uniform(),
      tau_s: 10 + 60 * random.uniform(),
      leakage: 0.004 * random.uniform(),
      boost: { share: 0.4 * random.uniform(), s: 60 * random.uniform() },
    };
    const target = machine.idle_w + machine.full_w * (0.3 + 0.4 * random.uniform());
    for (const hz of [10, 1]) {
      const { mean, last } = hold(machine, target, hz, seed);
      expect(Math.abs(mean / target - 1), `at ${hz} Hz`).toBeLessThan(0.005);
      expect(last.state).toBe('held');
    }
  });

  it('is not called held where the machine throttles below it, and says that it is too weak', () => {
    const { last, mean } = hold({ ...MACHINE, throttle_c: 55, resistance: 0.5 }, 120, 10, 1);
    expect(mean).toBeLessThan(0.95 * 120);
    expect(last.state).toBe('too_weak');
  });

  it.each([
    [300, 'too_weak'],
    [12, 'too_strong'],
  ])('of %i W is out of reach of a machine of 18 to 150 W, which is said', (target, state) => {
    const { last, states } = hold(MACHINE, target, 10, 2);
    expect(last.state).toBe(state);
    expect(states).not.toContain('held');
  });

  it('is told from the mean of a whole window, never before', () => {
    const { states } = hold(MACHINE, 90, 10, 3);
    expect(states.indexOf('held')).toBeGreaterThanOrEqual(10 * (HOLD_DEFAULTS.window_s + 3) - 1);
    expect(states.indexOf('held')).toBeLessThan(10 * 90);
  });
});
