import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CHANNELS } from '../../../tests/simulatedLive';
import { GrowingSeries, LiveTrace } from './liveTrace';

describe('a series that grows', () => {
  it('holds the same readings in the order of their times, however they come; the first of two for one time stays', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 5000 }), { maxLength: 600 }), fc.infiniteStream(fc.nat(3)), (times, jumps) => {
        const series = new GrowingSeries();
        const given = times.map((t) => [t, t * 2 + 1] as const);
        const shuffled = [...given].sort((a, b) => a[0] + 20 * (jumps.next().value ?? 0) - (b[0] + 20 * (jumps.next().value ?? 0)));
        for (const [t, v] of shuffled) series.append(t, v);
        for (const [t] of shuffled) series.append(t, -1);
        const sorted = [...times].sort((a, b) => a - b);
        expect(Array.from(series.t)).toEqual(sorted);
        expect(Array.from(series.values)).toEqual(sorted.map((t) => 2 * t + 1));
      }),
    );
  });
  it('thins what is old to one a step and leaves the rest, however often it is asked', () => {
    const series = new GrowingSeries();
    for (let i = 0; i < 60_000; i++) {
      series.append(i / 10, i);
      if (i % 1000 === 0) series.thin(i / 10 - 400, 1);
    }
    expect(series.length).toBeLessThan(5600 + 4000 + 2001 + 1000);
    const dense = series.span(5700, 6000);
    expect(dense.t.length).toBe(3000);
    const old = series.span(0, 5000);
    for (let i = 1; i < old.t.length; i++) expect(old.t[i] - old.t[i - 1]).toBeGreaterThanOrEqual(0.999);
    expect(old.t.length).toBeGreaterThan(4900);
    for (const [i, t] of old.t.entries()) expect(old.values[i]).toBe(Math.round(10 * t));
  });
  it('forgets what is before a time', () => {
    const series = new GrowingSeries();
    for (let i = 0; i < 1000; i++) series.append(i, i);
    series.forget(900);
    expect(series.t[0]).toBe(900);
    expect(series.length).toBe(100);
  });
});

describe('the rise of a live trace', () => {
  const made = () => {
    const trace = new LiveTrace(CHANNELS);
    for (let t = 0; t < 60; t++) {
      for (const i of [1, 2, 3, 4]) trace.append(`Die ${i}`, t, 50 + i);
      // the room comes from another source, half a second later
      if (t % 2 === 0) trace.append('Room', t + 0.5, 20 + t / 10);
    }
    return trace;
  };
  it('is the mean of the sensors over the room between its readings', () => {
    const { t, values } = made().rise(10, 20, null);
    expect(Array.from(t)).toEqual([10, 11, 12, 13, 14, 15, 16, 17, 18, 19]);
    for (const [i, s] of t.entries()) expect(values[i]).toBeCloseTo(52.5 - (20 + (s - 0.5) / 10), 9);
  });
  it('leaves out a sensor that is muted, and instants at which one is missing', () => {
    const trace = made();
    trace.muted.add('Die 4');
    expect(trace.rise(10, 11, null).values[0]).toBeCloseTo(52 - 20.95, 9);
    const short = new LiveTrace(CHANNELS);
    for (let t = 0; t < 20; t++) {
      short.append('Die 1', t, 50);
      if (t < 10) short.append('Die 2', t, 52);
      short.append('Room', t, 20);
    }
    const { t } = short.rise(0, 20, null);
    expect(t.at(-1)).toBeLessThan(15);
  });
  it('stands over a typed room where none is read, and is nothing where there is neither', () => {
    const trace = new LiveTrace(CHANNELS.filter((c) => c.role === 'sensor'));
    for (const i of [1, 2, 3, 4]) trace.append(`Die ${i}`, 1, 50);
    expect(trace.rise(0, 2, 21).values[0]).toBe(29);
    expect(trace.rise(0, 2, null).t).toHaveLength(0);
  });
});
