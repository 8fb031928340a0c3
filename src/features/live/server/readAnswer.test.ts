import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readAnswer } from './readAnswer';

describe("an instrument's answer", () => {
  it('gives its figures in the units of the core', () => {
    expect(readAnswer('+4.11000000E+01, 39.5', ['degC', 'degC'])).toEqual({ values: [41.1, 39.5], refused: [] });
    expect(readAnswer('104 FAR,14000 MW', ['degF', 'mW']).values.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([40, 14]);
    expect(readAnswer('-.5', [null])).toEqual({ values: [-0.5], refused: [] });
  });
  it.each([
    ['NAN', 'not_a_number'],
    ['9.91E37', 'not_a_number'],
    ['9.9E37', 'over_range'],
    ['-9.9E+37', 'over_range'],
    ['41.1 FAR', 'wrong_unit'],
    ['41.1 PA', 'wrong_unit'],
    ['#?Q', 'nonsense'],
    ['', 'nonsense'],
    ['4,2', 'count'],
    ['4.4.4', 'nonsense'],
    ['Infinity', 'nonsense'],
  ])('"%s" leaves a gap and is told as %s', (line, code) => {
    const { values, refused } = readAnswer(line, ['degC']);
    expect(values).toEqual([Number.NaN]);
    expect(refused[0].code).toBe(code);
  });
  it('keeps the good figures beside a bad one', () => {
    const { values, refused } = readAnswer('41.1,NAN,39.2', ['degC', 'degC', 'degC']);
    expect(values).toEqual([41.1, Number.NaN, 39.2]);
    expect(refused).toHaveLength(1);
  });
  it('is a figure or a told gap, whatever comes', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 40 }), fc.constantFrom(1, 2, 3), (line, n) => {
        const { values, refused } = readAnswer(line, Array(n).fill('degC'));
        expect(values).toHaveLength(n);
        for (const v of values) expect(Number.isNaN(v) ? refused.length : Math.abs(v)).toBeLessThan(9.9e37);
        if (values.some(Number.isNaN)) expect(refused.length).toBeGreaterThan(0);
      }),
    );
  });
});
