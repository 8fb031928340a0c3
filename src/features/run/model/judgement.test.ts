import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { check } from '#rules/validation';
import { Judgement, LEAST_WINDOW_S, RunNote, windowProblem } from './judgement';

const stages = [
  { stage: 'idle', start_s: 0, end_s: 240 },
  { stage: 'boost', start_s: 240, end_s: 300 },
  { stage: 'sustained', start_s: 300, end_s: 1440 },
  { stage: 'cooldown', start_s: 1440, end_s: 1600 },
];

describe('a window set by hand', () => {
  it('lies within the sustained load and is long enough', () => {
    expect(windowProblem({ start_s: 300, end_s: 1440 }, stages)).toBeNull();
    expect(windowProblem({ start_s: 299, end_s: 420 }, stages)).toBe('The window should lie within the load, 300 to 1440 s.');
    expect(windowProblem({ start_s: 1400, end_s: 1441 }, stages)).toMatch(/300 to 1440 s/);
    expect(windowProblem({ start_s: 400, end_s: 400 + LEAST_WINDOW_S - 0.1 }, stages)).toBe('A window is at least 10 s long.');
    expect(windowProblem({ start_s: 500, end_s: 400 }, stages)).toBe('A window is at least 10 s long.');
    expect(windowProblem({ start_s: Number.NaN, end_s: 400 }, stages)).toBe('A window is at least 10 s long.');
    expect(windowProblem({ start_s: 300, end_s: 420 }, stages.slice(0, 2))).toBe(
      'This run has no sustained load in which a window could lie.',
    );
  });
  it('is taken wherever it fits', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 300, max: 1430, noNaN: true }),
        fc.double({ min: LEAST_WINDOW_S, max: 2000, noNaN: true }),
        (start_s, length) => {
          const end_s = start_s + length;
          expect(windowProblem({ start_s, end_s }, stages) === null).toBe(end_s - start_s >= LEAST_WINDOW_S && end_s <= 1440 + 1e-6);
        },
      ),
    );
  });
});

describe('a judgement as it is sent', () => {
  const refuse = (given: object) => expect(() => check(Judgement, given));
  it('needs a reason where it excludes, and a window where it sets one', () => {
    expect(check(Judgement, { action: 'accept', who: 'EB' })).toMatchObject({ action: 'accept' });
    expect(check(Judgement, { action: 'window', window: { start_s: 1, end_s: 2 } }).window).toMatchObject({ end_s: 2 });
    refuse({ action: 'exclude' }).toThrow(/Say in 1 to 500 characters why/);
    refuse({ action: 'exclude', reason: '' }).toThrow(/Say in 1 to 500 characters why/);
    refuse({ action: 'exclude', reason: 'x'.repeat(501) }).toThrow(/Say in 1 to 500 characters why/);
    refuse({ action: 'window', window: { start_s: '1', end_s: 2 } }).toThrow('A window begins and ends at a number of seconds.');
    refuse({ action: 'forget' }).toThrow(/A judgement is one of accept, exclude/);
    refuse({ action: 'accept', who: 'x'.repeat(21) }).toThrow('Initials hold up to 20 characters.');
  });
});

describe('a note as it is sent', () => {
  it('has a time and a text', () => {
    expect(check(RunNote, { at_s: 0, text: 'door' })).toMatchObject({ at_s: 0, text: 'door' });
    expect(() => check(RunNote, { at_s: Number.POSITIVE_INFINITY, text: 'door' })).toThrow(/a number of seconds|a time of the run/);
    expect(() => check(RunNote, { at_s: 3, text: '' })).toThrow('A note has 1 to 500 characters.');
  });
});
