import { describe, expect, it } from 'vitest';
import { coolerHeights, heightProblem, readHeightsOf } from '#features/shelf/model/coolerHeights';
import { limitsOfParts, partFigures } from './parts';

const parts = [
  { name: 'Chip', sensors: 'D1, D2', share_pct: 75, limit_c: 95 },
  { name: 'Hub', sensors: 'H', share_pct: 25 },
  { name: 'Memory', sensors: 'M1' },
];

describe('the parts of a rig in a run', () => {
  it('have the mean or the hottest of their sensors, and a resistance where their share of the power is known', () => {
    const rises = { D1: 40, D2: 44, H: 30 };
    expect(partFigures(parts, rises, 100, false)).toEqual([
      { part: 'Chip', rise_k: 42, r_k_per_w: 42 / 75 },
      { part: 'Hub', rise_k: 30, r_k_per_w: 30 / 25 },
    ]);
    expect(partFigures(parts, rises, null, true)[0]).toEqual({ part: 'Chip', rise_k: 44, r_k_per_w: null });
    expect(partFigures([{ name: 'Chip', sensors: 'D1' }], rises, 100, false)[0].r_k_per_w).toBeCloseTo(0.4, 12);
    expect(limitsOfParts(parts)).toEqual([{ part: 'Chip', sensors: ['D1', 'D2'], limit_c: 95 }]);
  });
});

describe('the height of a cooler', () => {
  it('goes by its configuration, and is held against the room over the part', () => {
    expect(readHeightsOf('with cover 44.5; without cover = 41 mm')).toEqual([
      { configuration: 'with cover', height_mm: 44.5 },
      { configuration: 'without cover', height_mm: 41 },
    ]);
    expect(readHeightsOf('tall')).toBeNull();
    const sheet = { heights: 'with cover 44.5; without cover 41', measured_height_mm: 40 };
    expect(coolerHeights({ measured_height_mm: 40, height_mm: 42 })).toEqual([{ configuration: '', height_mm: 40 }]);
    expect(heightProblem('Low Otter', sheet, 'North', 44.5)).toBeNull();
    expect(heightProblem('Low Otter', sheet, 'North', 44.4)).toBe(
      'Low Otter (with cover 44.5 mm) is higher than the 44.4 mm of room on North.',
    );
    expect(heightProblem('Low Otter', sheet, 'North', undefined)).toBeNull();
  });
});
