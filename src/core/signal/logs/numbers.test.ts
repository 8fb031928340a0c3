import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isOtherUnit, parseUnit, toBase, UNITS, type Unit } from '#core/units/units';
import { isMissing, parseNumber, unitOfCell } from './numbers';

describe('numbers of cells', () => {
  it.each([
    ['41.25', 41.25],
    [' -3.5 ', -3.5],
    ['+7', 7],
    ['1e3', 1000],
    ['1,234.5', 1234.5],
    ["12'345", 12345],
    ['.5', 0.5],
    ['41.2 °C', 41.2],
    ['1200 RPM', 1200],
    ['Yes', 1],
    ['off', 0],
  ])('%j with a decimal point is %d', (cell, value) => {
    expect(parseNumber(cell, '.')).toBe(value);
  });
  it.each([
    ['41,25', 41.25],
    ['1.234,5', 1234.5],
    ['140.000', 140000],
    ['-0,5', -0.5],
  ])('%j with a decimal comma is %d', (cell, value) => {
    expect(parseNumber(cell, ',')).toBe(value);
  });
  it.each(['', 'N/A', 'nan', '--', 'warm', '12:30', '1,23', '1.2.3', '5 apples', '1e400', 'Infinity'])('%j is none', (cell) => {
    expect(parseNumber(cell, '.')).toBeNaN();
  });
  it('come back from how they are written', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), (v) => {
        const text = v.toFixed(3);
        expect(parseNumber(text, '.')).toBeCloseTo(v, 3);
        expect(parseNumber(text.replace('.', ','), ',')).toBeCloseTo(v, 3);
      }),
    );
  });
  it('say their unit, if one is known', () => {
    expect([unitOfCell('41.2 °C'), unitOfCell('12 W'), unitOfCell('5 apples'), unitOfCell('41.2')]).toEqual(['degC', 'W', null, null]);
    expect([isMissing(' n/a '), isMissing('0')]).toEqual([true, false]);
  });
});

describe('units', () => {
  it('are known by their usual spellings', () => {
    for (const [unit, entry] of Object.entries(UNITS))
      for (const spelling of entry.spellings) expect(parseUnit(` ${spelling.toUpperCase()} `), spelling).toBe(unit as Unit);
    expect(parseUnit('furlong')).toBeNull();
  });
  it('of other quantities are told apart from no unit', () => {
    expect([isOtherUnit('lx'), isOtherUnit('hPa'), isOtherUnit('°C'), isOtherUnit('')]).toEqual([true, true, false, false]);
  });
  it('convert to the core', () => {
    expect(toBase(212, 'degF')).toBeCloseTo(100, 10);
    expect(toBase(32, 'degF')).toBeCloseTo(0, 10);
    expect(toBase(295.15, 'K')).toBeCloseTo(22, 10);
    expect(toBase(2.1, 'GHz')).toBeCloseTo(2100, 10);
    expect(toBase(9500, 'mW')).toBeCloseTo(9.5, 10);
    expect(toBase(1.5, 'min')).toBe(90);
  });
});
