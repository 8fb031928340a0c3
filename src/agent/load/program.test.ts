import { describe, expect, it } from 'vitest';
import { LoadDriver, partOf, type Seen } from './program';

const seen = (t_s: number, hottest_c: number | null = 50, power_w: number | null = 60): Seen => ({ t_s, hottest_c, power_w });

describe('the driver of a load', () => {
  it('does nothing until it is asked, and its share then', () => {
    const driver = new LoadDriver({ share: 0.6, hold_w: null, limit_c: 90 });
    expect(driver.step(seen(0))).toBe(0);
    driver.ask(true);
    expect(driver.step(seen(1))).toBe(0.6);
    driver.ask(false);
    expect(driver.step(seen(2))).toBe(0);
  });

  it('ends at the limit and not a tenth below it, and does not begin again', () => {
    const driver = new LoadDriver({ share: 1, hold_w: null, limit_c: 90 });
    driver.ask(true);
    expect(driver.step(seen(1, 89.9))).toBe(1);
    expect(driver.step(seen(2, 90))).toBe(0);
    expect(driver.ended).toBe('The part reached 90.0 °C, its limit is 90 °C. The load was ended.');
    driver.ask(false);
    driver.ask(true);
    expect(driver.step(seen(3, 40))).toBe(0);
  });

  it('ends where no temperature was read for five seconds, unless it has no limit', () => {
    const blind = new LoadDriver({ share: 1, hold_w: null, limit_c: 90 });
    blind.ask(true);
    expect([blind.step(seen(10, 50)), blind.step(seen(15, null)), blind.step(seen(15.1, null))]).toEqual([1, 1, 0]);
    expect(blind.ended).toContain('No temperature was read for 5 s');
    const free = new LoadDriver({ share: 1, hold_w: null, limit_c: null });
    free.ask(true);
    expect([free.step(seen(10, null)), free.step(seen(100, null))]).toEqual([1, 1]);
  });

  it('ends where the power that it holds is not read any more, and learns anew for the next load', () => {
    const driver = new LoadDriver({ share: 1, hold_w: 80, limit_c: 90 });
    for (let t = 0; t < 5; t++) driver.step(seen(t, 40, 20));
    driver.ask(true);
    let duty = 0;
    for (let t = 5; t < 60; t++) duty = driver.step(seen(t, 60, 20 + 120 * duty));
    expect(20 + 120 * duty).toBeCloseTo(80, 0);
    expect(driver.held?.state).toBe('held');
    driver.ask(false);
    expect(driver.step(seen(61, 50, 20))).toBe(0);
    expect(driver.held).toBeNull();
    driver.ask(true);
    expect(driver.step(seen(62, 50, 20))).toBe(0.5);
    expect(driver.step(seen(67.1, 50, null))).toBe(0);
    expect(driver.ended).toContain('No power was read');
  });

  it('follows its program to the second', () => {
    const program = { idle_s: 10, load_s: 20, cool_s: 5 };
    expect([0, 9.99, 10, 29.99, 30, 34.99, 35].map((t) => partOf(program, t))).toEqual([
      'idle',
      'idle',
      'load',
      'load',
      'cool',
      'cool',
      'over',
    ]);
    expect(partOf({ idle_s: 0, load_s: 1, cool_s: 0 }, 0)).toBe('load');
  });
});
