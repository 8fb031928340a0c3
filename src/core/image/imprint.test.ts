import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bothFaces } from './bothFaces';
import { invert, project, squareToQuad } from './homography';
import { measureImprint, readPrint, scorePrint } from './measureImprint';
import { otsu } from './otsu';
import { regions } from './regions';
import type { Corners, ImprintOptions, Photo } from './types';

const SIDE = 400;
const EDGE = 60;

/** A picture of a 40 × 40 mm part, 400 pixels a side: grey metal, dark where something lies. A little noise, as any camera has. */
function drawn(covered: (x_mm: number, y_mm: number) => boolean, around = 60): Photo {
  const size = SIDE + 2 * EDGE;
  const data = new Uint8ClampedArray(4 * size * size);
  for (let v = 0; v < size; v++) {
    for (let u = 0; u < size; u++) {
      const x = (u + 0.5 - size / 2) / 10;
      const y = (size / 2 - v - 0.5) / 10;
      const inside = Math.abs(x) < 20 && Math.abs(y) < 20;
      const level = (covered(x, y) ? 70 : inside ? 180 : around) + (((u * 7919 + v * 104729) % 13) - 6) / 2;
      data.set([level, level, level, 255], 4 * (v * size + u));
    }
  }
  return { width: size, height: size, data };
}

const options: ImprintOptions = {
  corners: [
    { x: EDGE, y: EDGE },
    { x: EDGE + SIDE, y: EDGE },
    { x: EDGE + SIDE, y: EDGE + SIDE },
    { x: EDGE, y: EDGE + SIDE },
  ],
  length_mm: 40,
  width_mm: 40,
  mirrored: false,
  face_goes_on: false,
  threshold: null,
  swapped: false,
};

describe('a print of plain shapes, by hand', () => {
  it('tells the cover, centre and corners of a rectangle', () => {
    // 30 × 20 mm, its middle at 3, −2: 600 of 1600 mm²
    const print = measureImprint(
      drawn((x, y) => Math.abs(x - 3) < 15 && Math.abs(y + 2) < 10),
      options,
    );
    expect(print.cover).toBeCloseTo(0.375, 2);
    expect(print.offset.x_mm).toBeCloseTo(3, 1);
    expect(print.offset.y_mm).toBeCloseTo(-2, 1);
    expect(print.offset.r_mm).toBeCloseTo(Math.hypot(3, 2), 1);
    expect(print.voids).toMatchObject({ count: 0, share: 0 });
    // the corner squares are 10 mm wide: none is reached above, 8 of 10 × 2 of 10 mm and 8 of 10 at the lower right
    expect(print.corners.map((c) => c.state)).toEqual(['thin', 'thin', 'thin', 'thin']);
    expect(print.corners[0].cover).toBe(0);
    expect(print.corners[2].cover).toBeCloseTo(0.16, 1);
    // the middle third, 13.3 mm wide, is all covered
    expect(print.rings[0]).toBeCloseTo(1, 2);
    expect(print.cover_range[0]).toBeLessThanOrEqual(print.cover);
    expect(print.cover_range[1]).toBeGreaterThanOrEqual(print.cover);
  });

  it('turns left and right over for a face that was turned over', () => {
    const photo = drawn((x, y) => Math.abs(x - 4) < 12 && Math.abs(y) < 12);
    const print = measureImprint(photo, { ...options, mirrored: true });
    expect(print.offset.x_mm).toBeCloseTo(-4, 1);
    expect(print.corners.map((c) => c.place)).toEqual(['upper left', 'upper right', 'lower right', 'lower left']);
    const plain = measureImprint(photo, options);
    expect(print.corners[1].cover).toBeCloseTo(plain.corners[0].cover, 6);
  });

  it('finds voids and leaves flecks out', () => {
    const hole = (x: number, y: number, cx: number, cy: number, r: number) => Math.hypot(x - cx, y - cy) < r;
    const print = measureImprint(
      drawn((x, y) => Math.hypot(x, y) < 17 && !hole(x, y, 5, 5, 2) && !hole(x, y, -6, 0, 1) && !hole(x, y, 0, -8, 0.2)),
      options,
    );
    expect(print.voids.count).toBe(2);
    expect(print.voids.largest_mm2).toBeCloseTo(Math.PI * 4, 0);
    expect(print.voids.share).toBeCloseTo((Math.PI * 5) / 1600, 3);
    expect(print.voids.list[0].x_mm).toBeCloseTo(5, 1);
    expect(print.voids.list[0].y_mm).toBeCloseTo(5, 1);
  });

  it('tells what was squeezed out over an edge', () => {
    // a bead 2 mm wide and 10 mm long beyond the right edge: 20 of 1600 mm²
    const print = measureImprint(
      drawn((x, y) => (Math.abs(x) < 18 && Math.abs(y) < 12) || (x >= 18 && x < 22 && Math.abs(y) < 5), 180),
      { ...options, face_goes_on: true },
    );
    expect(print.squeeze_out?.share).toBeCloseTo(20 / 1600, 3);
    expect(print.squeeze_out?.reach_mm).toBeCloseTo(2, 0);
  });

  it('reads one scored print at another threshold, or the other way round, without its photograph', () => {
    const scored = scorePrint(
      drawn((x, y) => Math.hypot(x, y) < 15),
      options,
    );
    const half = readPrint(scored, options);
    expect(half.cover).toBeCloseTo((Math.PI * 225) / 1600, 2);
    expect(readPrint(scored, { ...options, threshold: 0.2 }).cover).toBeGreaterThanOrEqual(half.cover);
    expect(readPrint(scored, { ...options, threshold: 0.8 }).cover).toBeLessThanOrEqual(half.cover);
    expect(readPrint(scored, { ...options, swapped: true }).cover).toBeCloseTo(1 - half.cover, 2);
  });
});

describe('homography', () => {
  const quad = fc.tuple(...Array.from({ length: 8 }, () => fc.double({ min: -0.25, max: 0.25, noNaN: true }))).map(
    (d) =>
      [
        { x: 100 * d[0], y: 100 * d[1] },
        { x: 100 * (1 + d[2]), y: 100 * d[3] },
        { x: 100 * (1 + d[4]), y: 100 * (1 + d[5]) },
        { x: 100 * d[6], y: 100 * (1 + d[7]) },
      ] as Corners,
  );
  it('takes the unit square to the corners, and back', () => {
    fc.assert(
      fc.property(quad, fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (corners, x, y) => {
        const h = squareToQuad(corners);
        for (const [i, [u, v]] of [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ].entries()) {
          const p = project(h, u, v);
          expect(Math.hypot(p.x - corners[i].x, p.y - corners[i].y)).toBeLessThan(1e-8);
        }
        const there = project(h, x, y);
        const back = project(invert(h), there.x, there.y);
        expect(Math.hypot(back.x - x, back.y - y)).toBeLessThan(1e-8);
      }),
    );
  });
  it('keeps straight lines straight', () => {
    fc.assert(
      fc.property(quad, (corners) => {
        const h = squareToQuad(corners);
        const [a, b, c] = [0.1, 0.4, 0.9].map((t) => project(h, t, 0.2 + 0.5 * t));
        expect(Math.abs((b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y))).toBeLessThan(1e-6);
      }),
    );
  });
});

describe('otsu', () => {
  it('parts two groups half-way between them', () => {
    expect(otsu([1, 1, 1.2, 9, 9.1, 9.2])).toBeGreaterThan(1.2);
    expect(otsu([1, 1, 1.2, 9, 9.1, 9.2])).toBeLessThan(9);
  });
  it('gives the value back where all are equal', () => {
    expect(otsu([4, 4, 4])).toBe(4);
  });
  it('moves and stretches with the values', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 200 }), { minLength: 8, maxLength: 60 }),
        fc.integer({ min: 1, max: 9 }),
        (values, factor) => {
          expect(otsu(values.map((v) => factor * v + 5))).toBeCloseTo(factor * otsu(values) + 5, 6);
        },
      ),
    );
  });
});

describe('regions', () => {
  it('count what touches by sides, or also by corners', () => {
    const cells = Uint8Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
    expect(regions(cells, 3, 3, 1, false)).toHaveLength(3);
    expect(regions(cells, 3, 3, 1, true)).toHaveLength(1);
    expect(regions(cells, 3, 3, 1, false).map((r) => r.touches_edge)).toEqual([true, false, true]);
  });
});

describe('both faces', () => {
  const face = (covered: (x: number, y: number) => boolean, mirrored: boolean) => {
    const print = measureImprint(drawn(covered), { ...options, mirrored });
    return { mask: print.mask, mirrored };
  };
  it('are laid upon each other the right way round', () => {
    // the same print on part and base: the base is turned over, so that it is seen from the other side
    const part = face((x, y) => Math.abs(x - 4) < 10 && Math.abs(y) < 10, false);
    const base = face((x, y) => Math.abs(x + 4) < 10 && Math.abs(y) < 10, true);
    const both = bothFaces(part, base, { x: 8, y: 8 });
    expect(both?.agreement).toBeGreaterThan(0.99);
    expect(both?.offset.x_mm).toBeCloseTo(4, 1);
    expect(both?.cover).toBeCloseTo(0.25, 2);
  });
  it('cover what either covers', () => {
    // left half stayed on the part, right half on the base
    const part = face((x, y) => x < 0 && x > -12 && Math.abs(y) < 12, false);
    const base = face((x, y) => x < 0 && x > -12 && Math.abs(y) < 12, true);
    const both = bothFaces(part, base, { x: 8, y: 8 });
    expect(both?.cover).toBeCloseTo(576 / 1600, 2);
    expect(both?.agreement).toBeCloseTo(1 - 576 / 1600, 2);
  });
  it('are not laid together with other sides', () => {
    const part = face((x, y) => Math.hypot(x, y) < 12, false);
    expect(bothFaces(part, { mask: { ...part.mask, columns: 200 }, mirrored: true }, { x: 8, y: 8 })).toBeNull();
  });
});
