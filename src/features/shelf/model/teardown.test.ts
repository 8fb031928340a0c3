import { describe, expect, it } from 'vitest';
import { check, RuleError } from '#rules/validation';
import { screwWords, Teardown, teardownMinutes } from './teardown';

describe('a take-apart list', () => {
  const problem = (step: object) => {
    try {
      check(Teardown, { base: 0, steps: [step] });
    } catch (error) {
      return (error as RuleError).message;
    }
    return null;
  };
  it('takes steps with and without screws', () => {
    expect(problem({ what: 'Shroud off', screws: 4, screw_mm: 6.5, place: 'rear', tool: 'cross-head 1', minutes: 3 })).toBeNull();
    expect(problem({ what: 'Unplug' })).toBeNull();
    expect(problem({ what: 'Unplug', screws: null, minutes: null })).toBeNull();
  });
  it('refuses each odd field with its sentence', () => {
    expect(problem({ what: '' })).toBe('What is removed or opened takes 1 to 200 characters.');
    expect(problem({ what: 'x', screws: 1.5 })).toBe('Screws are counted from 0 to 99.');
    expect(problem({ what: 'x', screw_mm: 900 })).toBe('A screw is 0.5 to 300 mm long.');
    expect(problem({ what: 'x', minutes: 'long' })).toBe('A step takes 0 to 600 minutes.');
    expect(problem({ what: 'x', minutes: -1 })).toBe('A step takes 0 to 600 minutes.');
    expect(() => check(Teardown, { base: 0, steps: Array.from({ length: 61 }, () => ({ what: 'x' })) })).toThrow(
      /a list of up to 60 steps/,
    );
    expect(() => check(Teardown, { base: 'a', steps: [] })).toThrow(RuleError);
  });
  it('adds up its minutes, and says nothing where none are told', () => {
    expect(teardownMinutes([{ what: 'a', minutes: 2 }, { what: 'b' }, { what: 'c', minutes: 0.5 }])).toBe(2.5);
    expect(teardownMinutes([{ what: 'a' }])).toBeNull();
  });
  it('tells screws by count, length and place', () => {
    expect(screwWords({ what: 'a', screws: 4, screw_mm: 6, place: 'rear edge' })).toBe('4 screws, 6 mm, rear edge');
    expect(screwWords({ what: 'a', screws: 1 })).toBe('1 screw');
    expect(screwWords({ what: 'a', screw_mm: 6 })).toBe('');
  });
});
