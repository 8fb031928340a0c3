import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type DoseInput, type DosePart, dose, judgeAmount, meanBondLine, mixedParts, PATTERNS, usualPattern } from './dose';
import { capDiameter, capHeight, capVolume } from './sphericalCap';

const lid: DosePart = { kind: 'lid', length_mm: 37, width_mm: 37, count: 1 };
const input = (more: Partial<DoseInput> = {}): DoseInput => ({
  ...{ part: lid, pattern: 'dot', bond_line_um: 45, waste: 0.15, density_g_per_cm3: 2.5, contact_angle_deg: 60 },
  ...more,
});

describe('a drop as a spherical cap', () => {
  it('is half a sphere at 90°, and has the textbook volume at 60°', () => {
    expect(capVolume(10, 90)).toBeCloseTo((2 / 3) * Math.PI * 125, 9);
    // a = 3, θ = 60°: h = 3 tan 30° = √3, V = π√3(27 + 3)/6 = 5√3 π
    expect(capHeight(6, 60)).toBeCloseTo(Math.sqrt(3), 12);
    expect(capVolume(6, 60)).toBeCloseTo(5 * Math.sqrt(3) * Math.PI, 9);
  });
  it('comes back from its volume', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 50, noNaN: true }), fc.double({ min: 5, max: 170, noNaN: true }), (d, angle) => {
        expect(capDiameter(capVolume(d, angle), angle) / d).toBeCloseTo(1, 9);
      }),
    );
  });
});

describe('a dose', () => {
  it('is area × bond line × (1 + waste), by hand', () => {
    // 37 mm × 37 mm × 0.045 mm × 1.15 = 70.85 mm³, at 2.5 g/cm³ 177.1 mg
    const d = dose(input());
    expect(d.volume_mm3).toBeCloseTo(70.84575, 6);
    expect(d.mass_mg).toBeCloseTo(177.114375, 6);
    expect(d.area_mm2).toBe(1369);
    // the pressed dot is a disc of that volume: r = √(70.84575 / (π 0.045)) = 22.386 mm
    expect(d.spread_radius_mm).toBeCloseTo(22.386, 3);
    // it runs over at the sides and leaves the corners: disc less four segments beyond 18.5 mm
    const [r, a] = [22.386, 18.5];
    const segment = r * r * Math.acos(a / r) - a * Math.sqrt(r * r - a * a);
    expect(d.cover).toBeCloseTo((Math.PI * r * r - 4 * segment) / 1369, 2);
    expect(d.cover).toBeLessThan(0.96);
    // on a part twice as long as wide it leaves more, and a line along it less
    const long = { ...input(), part: { ...input().part, width_mm: 18.5 } };
    expect(dose(long).cover).toBeLessThan(0.87);
    expect(dose({ ...long, pattern: 'line' }).cover).toBeGreaterThan(0.95);
    expect(dose({ ...input(), pattern: 'film' }).cover).toBe(1);
    // four dots that meet spread on where they can: farther than one alone would, to the corners but for a little
    const dots = dose({ ...input(), pattern: 'dots' });
    expect(dots.spread_radius_mm).toBeGreaterThan(22.386 / 2);
    expect(dots.cover).toBeGreaterThan(0.97);
  });

  it('keeps its volume whatever the pattern', () => {
    for (const pattern of PATTERNS) {
      for (const part of [lid, { kind: 'row', length_mm: 14, width_mm: 12, count: 8 } as DosePart]) {
        const given = input({ pattern, part });
        const d = dose(given);
        const each = d.volume_mm3 / part.count;
        const drops = d.shapes.flatMap((s) => (s.kind === 'dot' ? [capVolume(s.diameter, 60)] : []));
        const beads = d.shapes.flatMap((s) => {
          if (s.kind !== 'line') return [];
          const t = Math.PI / 3;
          const r = s.width / 2 / Math.sin(t);
          return [r * r * (t - Math.sin(t) * Math.cos(t)) * Math.hypot(s.x2 - s.x1, s.y2 - s.y1)];
        });
        const laid = [...drops, ...beads].reduce((a, b) => a + b, 0);
        if (d.shapes[0].kind === 'film') expect(laid).toBe(0);
        else expect(laid / each, pattern).toBeCloseTo(1, 9);
      }
    }
  });

  it('keeps every dot and line on the part', () => {
    for (const pattern of ['dot', 'dots', 'line', 'cross'] as const) {
      for (const s of dose(input({ pattern })).shapes) {
        if (s.kind === 'dot') expect(Math.max(Math.abs(s.x), Math.abs(s.y)) + s.diameter / 2).toBeLessThanOrEqual(18.5);
        if (s.kind === 'line') expect(Math.max(Math.abs(s.x2), Math.abs(s.y2))).toBeLessThanOrEqual(18.5);
      }
    }
    expect(dose(input({ pattern: 'dots' })).shapes).toHaveLength(4);
    expect(dose(input({ pattern: 'line', part: { ...lid, length_mm: 20, width_mm: 60 } })).shapes[0]).toMatchObject({
      x1: 0,
      y1: -21,
      y2: 21,
    });
  });

  it('says what too little and too much do', () => {
    const given = input();
    // needed without waste: 61.605 mm³, 154.01 mg
    expect(judgeAmount(77.00625, given)).toMatchObject({ cover: expect.closeTo(0.5, 2), squeezed_mm3: expect.closeTo(0, 0) });
    const much = judgeAmount(308.025, given);
    expect(much.cover).toBe(1);
    expect(much.squeezed_mm3).toBeCloseTo(61.605, 6);
    expect(meanBondLine(154.0125, 1369, 2.5)).toBeCloseTo(45, 9);
    expect(mixedParts(110, 10, 1)).toEqual({ a_mg: 100, b_mg: 10 });
  });

  it('follows lid size and material where nothing is said', () => {
    const pattern = (part: DosePart, m: Parameters<typeof usualPattern>[1] = 'paste') => usualPattern(part, m).pattern;
    expect(pattern({ ...lid, length_mm: 30, width_mm: 30 })).toBe('dot');
    expect(pattern(lid)).toBe('dots');
    expect(pattern({ ...lid, length_mm: 60, width_mm: 30 })).toBe('line');
    expect(pattern({ ...lid, kind: 'die' })).toBe('spread');
    expect(pattern(lid, 'liquid_metal')).toBe('film');
    expect(pattern(lid, 'sheet')).toBe('sheet');
  });
});
