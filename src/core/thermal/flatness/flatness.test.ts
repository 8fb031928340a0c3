import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { flatness, gapResistance, type HeightReading, oddHeights, removedBetween } from './flatness';
import { gapTable, type Neighbour } from './gapTable';
import { heightMap } from './heightMap';
import { readHeights } from './readHeights';

/** Heights of a face over a grid of n × n points on a square of some size, mm and µm. */
function grid(n: number, size: number, height: (x: number, y: number) => number): HeightReading[] {
  const at = (i: number) => (i / (n - 1) - 0.5) * size;
  return Array.from({ length: n * n }, (_, i) => {
    const [x, y] = [at(i % n), at(Math.floor(i / n))];
    return { x_mm: x, y_mm: y, height_um: height(x, y) };
  });
}

describe('flatness', () => {
  it('takes any plane out and leaves nothing', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: -500, max: 500, noNaN: true }),
        (a, b, c) => {
          const f = flatness(grid(4, 30, (x, y) => a * x + b * y + c));
          expect(f?.peak_to_valley_um).toBeLessThan(1e-9);
          expect(f?.tilt.x).toBeCloseTo(a, 9);
          expect(f?.tilt.y).toBeCloseTo(b, 9);
        },
      ),
    );
  });
  it('finds the bow of a dome whatever its tilt, by hand', () => {
    // 3 × 3 points, 12 µm higher in the middle: plane at 12/9, middle 12 − 4/3, rim −4/3
    const f = flatness(grid(3, 30, (x, y) => (x === 0 && y === 0 ? 12 : 0) + 2 * x));
    expect(f?.bow_um).toBeCloseTo(12, 9);
    expect(f?.peak_to_valley_um).toBeCloseTo(12, 9);
    expect(f?.rms_um).toBeCloseTo(Math.sqrt(((12 - 4 / 3) ** 2 + 8 * (4 / 3) ** 2) / 9), 9);
    expect(f?.twist_um).toBeCloseTo(0, 9);
    // the middle's share of the area: a sixth of the squares' volume each, 4 squares of 2 triangles, 6 or 8 of which meet in it
    expect(f?.mean_gap_um).toBeGreaterThanOrEqual(12 * (1 - 8 / 24) - 1e-9);
    expect(f?.mean_gap_um).toBeLessThanOrEqual(12 * (1 - 4 / 24) + 1e-9);
    expect(f?.repeat_sd_um).toBeNull();
  });
  it('finds the twist of a saddle, on a grid and on four corners', () => {
    // z = 10 (x/15)(y/15): 10 µm at two corners, −10 at the others
    const saddle = (x: number, y: number) => (10 * x * y) / 225;
    expect(flatness(grid(3, 30, saddle))?.twist_um).toBeCloseTo(10, 9);
    expect(flatness(grid(2, 30, saddle))?.twist_um).toBeCloseTo(10, 9);
    expect(flatness(grid(3, 30, saddle))?.bow_um).toBeCloseTo(0, 9);
  });
  it('tells the scatter of repeats, and averages them', () => {
    const once = grid(3, 30, () => 5);
    const f = flatness([...once.map((r) => ({ ...r, height_um: 4 })), ...once.map((r) => ({ ...r, height_um: 6 }))]);
    expect(f?.repeat_sd_um).toBeCloseTo(Math.SQRT2, 12);
    expect(f?.points).toHaveLength(9);
    expect(f?.peak_to_valley_um).toBeLessThan(1e-12);
  });
  it('takes the mean gap by area, wherever the points crowd', () => {
    // a dome of 15 µm over a disc-like square: mean gap by the integral of the paraboloid, 10 µm at the rim's middle
    const dome = (x: number, y: number) => (-10 * ((x / 15) ** 2 + (y / 15) ** 2)) / 2;
    const even = flatness(grid(31, 30, dome))?.mean_gap_um ?? 0;
    const crowded = [
      ...grid(31, 30, dome),
      ...grid(21, 4, (x, y) => dome(x, y)).map((r) => ({
        ...r,
        x_mm: r.x_mm + 0.01,
        y_mm: r.y_mm + 0.01,
        height_um: dome(r.x_mm + 0.01, r.y_mm + 0.01),
      })),
    ];
    expect(even).toBeCloseTo(10 / 3, 1);
    expect(flatness(crowded)?.mean_gap_um).toBeCloseTo(even, 1);
  });
  it('says nothing where the points are nearly on one line, and does just beside it', () => {
    const strip = (width: number) =>
      flatness(
        [0, 10, 20, 30, 40].flatMap((x, i) => [
          { x_mm: x, y_mm: (i % 2) * width, height_um: i },
          { x_mm: x + 1, y_mm: ((i + 1) % 2) * width, height_um: i },
        ]),
      );
    expect(strip(1)).toBeNull();
    expect(strip(2)).not.toBeNull();
  });
  it('says nothing where a plane is all that can be told', () => {
    expect(flatness(grid(2, 30, () => 0).slice(0, 3))).toBeNull();
    expect(flatness([1, 2, 3, 4, 5].map((x) => ({ x_mm: x, y_mm: 2 * x, height_um: x })))).toBeNull();
  });
  it('points at a slip of the micrometer and at nothing else', () => {
    const face = grid(5, 30, (x, y) => 8 * Math.cos(x / 10) * Math.cos(y / 10));
    expect(oddHeights(face)).toEqual([]);
    const slipped = face.map((r, i) => (i === 12 ? { ...r, height_um: r.height_um + 100 } : r));
    expect(oddHeights(slipped)).toEqual([slipped[12]]);
    // a bow of many µm is no slip
    expect(oddHeights(grid(5, 30, (x, y) => -0.4 * (x * x + y * y)))).toEqual([]);
  });
  it('tells what lapping took, point by point', () => {
    const before = grid(3, 30, (x, y) => (x === 0 && y === 0 ? 40 : 30));
    const after = grid(3, 30, () => 0);
    const r = removedBetween(before, after, 2000);
    expect(r).toMatchObject({ least_um: 30, most_um: 40 });
    expect(r?.mean_um).toBeCloseTo(280 / 9, 9);
    expect(r?.points.find((p) => p.x_mm === 0 && p.y_mm === 0)?.share).toBeCloseTo(0.02, 12);
    expect(removedBetween(before, [{ x_mm: 99, y_mm: 0, height_um: 0 }], null)).toBeNull();
  });
  it('puts a gap into K/W', () => {
    // 10 µm of 5 W/(m·K) over 1369 mm²: 1e-5 / (5 × 1.369e-3) = 0.001461 K/W
    expect(gapResistance(10, 5, 1369)).toBeCloseTo(0.00146092, 7);
  });
});

describe('the gap table', () => {
  const pad = (more: Partial<Neighbour> = {}): Neighbour => ({
    ...{ name: 'memory', gap_mm: 0.75, thickness_mm: 1, area_mm2: 400, pressure_at_quarter_kpa: 200, most_compression: 0.6 },
    ...more,
  });
  it('leaves the die its force where the pads take a part', () => {
    // pressed by a quarter: 200 kPa × 400 mm² = 80 N
    const t = gapTable([pad()], 200);
    expect(t.neighbours[0]).toMatchObject({ compression: 0.25, open_mm: 0 });
    expect(t.neighbours[0].force_n).toBeCloseTo(80, 9);
    expect(t.die_force_n).toBeCloseTo(120, 9);
    expect(t.neighbours[0].share).toBeCloseTo(0.4, 9);
    expect([t.die_gap_mm, t.findings]).toEqual([0, []]);
  });
  it('finds the cooler held off by a pad too thick, and the gap left over the die', () => {
    const t = gapTable([pad({ thickness_mm: 1.5 })], 120);
    expect(t.findings.map((f) => f.code)).toEqual(['held_off']);
    expect(t.die_gap_mm).toBeGreaterThan(0);
    expect(t.neighbours[0].force_n).toBeCloseTo(120, 3);
    expect(t.die_force_n).toBeCloseTo(0, 3);
    // the same lift by its own formula: c with F(c) = 120
    const c = t.neighbours[0].compression;
    expect(80 * ((c / 0.25) * ((1 - 0.25 / 0.6) / (1 - c / 0.6)))).toBeCloseTo(120, 3);
    expect(t.die_gap_mm).toBeCloseTo(1.5 - 0.75 - 1.5 * c, 9);
  });
  it('names a neighbour that is not touched and one that is pressed to its limit', () => {
    const t = gapTable([pad({ name: 'row', thickness_mm: 0.5 }), pad({ name: 'coil', gap_mm: 0.45, pressure_at_quarter_kpa: 1 })], 500);
    expect(t.findings.map((f) => f.code)).toEqual(['not_touching', 'overpressed']);
    expect(t.findings[0].message).toBe('row is not touched: 0.25 mm of air are left. A pad thicker than 0.75 mm.');
  });
  it('never gives out more force than the clamp has, and none to what does not touch', () => {
    const neighbour = fc.record({
      name: fc.constant('n'),
      gap_mm: fc.double({ min: 0.1, max: 3, noNaN: true }),
      thickness_mm: fc.double({ min: 0.2, max: 4, noNaN: true }),
      area_mm2: fc.double({ min: 10, max: 2000, noNaN: true }),
      pressure_at_quarter_kpa: fc.double({ min: 0.1, max: 1000, noNaN: true }),
      most_compression: fc.double({ min: 0.3, max: 0.9, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(neighbour, { minLength: 1, maxLength: 6 }), fc.double({ min: 1, max: 1000, noNaN: true }), (list, clamp) => {
        const t = gapTable(list, clamp);
        const held = t.neighbours.reduce((sum, n) => sum + n.force_n, 0);
        expect(held).toBeLessThanOrEqual(clamp * (1 + 1e-6));
        expect(held + t.die_force_n).toBeCloseTo(clamp, 6);
        for (const n of t.neighbours) if (n.open_mm > 0) expect(n.force_n).toBe(0);
        if (t.die_gap_mm > 0.001) expect(t.findings.some((f) => f.code === 'held_off')).toBe(true);
      }),
    );
  });
});

describe('heights as they are typed', () => {
  it('are read with blanks, commas and decimal commas, repeats in a line', () => {
    const expected = [
      { x_mm: 0, y_mm: 0, height_um: 12.5 },
      { x_mm: 0, y_mm: 0, height_um: 13 },
      { x_mm: 18.5, y_mm: 0, height_um: -4 },
    ];
    for (const text of [
      'x y h\n0 0 12.5 13\n18.5 0 -4',
      '0,0,12.5,13\n18.5,0,-4\n',
      '0;0;12,5;13\n18,5;0;−4',
      '0\t0\t12,5\t13\r\n18,5\t0\t-4\r\n',
    ]) {
      expect(readHeights(text)).toEqual({ readings: expected, problems: [] });
    }
  });
  it('in millimetres where the heading says so, and asked about where they can be nothing else', () => {
    const heights = (text: string) => readHeights(text).readings.map((r) => r.height_um);
    expect(heights('x y mm\n0 0 3.701\n10 0 3.712')[1]).toBeCloseTo(3712, 6);
    expect(heights('x/mm;y/mm;h/µm\n0;0;12\n')).toEqual([12]);
    expect(heights('x mm, y mm, h\n0,0,12\n')).toEqual([12]);
    expect(readHeights('0 0 3.701\n10 0 3.712').problems.join()).toContain('name their unit in a heading');
    expect(readHeights('x y h\n0 0 3.70\n10 0 9.71').problems).toEqual([]);
  });
  it('name the line that cannot be read, and keep the others', () => {
    expect(readHeights('0 0 1\n1 0\n2 zero 3\n3 0 4')).toEqual({
      readings: [
        { x_mm: 0, y_mm: 0, height_um: 1 },
        { x_mm: 3, y_mm: 0, height_um: 4 },
      ],
      problems: ['Line 2: x, y and at least one height are needed; it has 2.', 'Line 3: "2 zero 3" holds something that is no number.'],
    });
    expect(readHeights(Array.from({ length: 2001 }, (_, i) => `${i} 0 1`).join('\n')).problems[0]).toMatch(/2001 readings/);
  });
});

describe('the map', () => {
  it('goes through every point and stays between the lowest and the highest', () => {
    const f = flatness(grid(5, 30, (x, y) => 5 * Math.sin(x / 5) * Math.cos(y / 7)));
    const map = heightMap(f?.points ?? [], 41);
    if (!f || !map) throw new Error('no map');
    expect([map.columns, map.rows, map.values.length]).toEqual([41, 41, 1681]);
    const deviations = f.points.map((p) => p.deviation_um);
    expect(Math.min(...map.values)).toBeGreaterThanOrEqual(Math.min(...deviations) - 1e-9);
    expect(Math.max(...map.values)).toBeLessThanOrEqual(Math.max(...deviations) + 1e-9);
    // every tenth node is a measured point
    f.points.forEach((p, i) => {
      expect(map.values[10 * Math.floor(i / 5) * 41 + 10 * (i % 5)]).toBeCloseTo(p.deviation_um, 9);
    });
    expect(heightMap(f.points.slice(0, 5), 41)).toBeNull();
  });
});
