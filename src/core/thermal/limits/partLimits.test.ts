import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { partMargins, worstMargin } from './partLimits';

const limits = [
  { part: 'Memory', sensors: ['Mem 1', 'Mem 2'], limit_c: 95 },
  { part: 'Regulator', sensors: ['VRM'], limit_c: 110 },
];

describe('parts with limits of their own', () => {
  it('are told by their hottest sensor, for one room', () => {
    const sensors = [
      { name: 'Mem 1', rise_k: 50 },
      { name: 'Mem 2', rise_k: 52.5 },
      { name: 'VRM', rise_k: 70 },
      { name: 'Die', rise_k: 90 },
    ];
    const margins = partMargins(sensors, limits, 35);
    expect(margins).toEqual([
      { part: 'Memory', sensor: 'Mem 2', rise_k: 52.5, margin_k: 7.5 },
      { part: 'Regulator', sensor: 'VRM', rise_k: 70, margin_k: 5 },
    ]);
    // the regulator is hotter by far and nearer to its limit only by a little
    expect(worstMargin(margins)?.part).toBe('Regulator');
  });
  it('are left out where none of their sensors was read', () => {
    expect(partMargins([{ name: 'VRM', rise_k: null }], limits, 35)).toEqual([]);
    expect(worstMargin([])).toBeNull();
  });
  it('are decided by the same part in any room', () => {
    const rise = fc.double({ min: 0, max: 90, noNaN: true });
    fc.assert(
      fc.property(rise, rise, fc.double({ min: -20, max: 70, noNaN: true }), (memory, regulator, room) => {
        fc.pre(Math.abs(95 - memory - (110 - regulator)) > 1e-6);
        const sensors = [
          { name: 'Mem 1', rise_k: memory },
          { name: 'VRM', rise_k: regulator },
        ];
        expect(worstMargin(partMargins(sensors, limits, room))?.part).toBe(worstMargin(partMargins(sensors, limits, 20))?.part);
      }),
    );
  });
});
