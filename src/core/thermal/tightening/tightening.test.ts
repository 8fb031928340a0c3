import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clampForce, METRIC_THREADS, pressureOn, springForce, TORQUE_UNITS } from './force';
import { SCHEMES, type Screw, tighteningOrder, torqueRounds } from './order';
import { readScrews } from './readScrews';

const circle = (n: number, r = 30): Screw[] =>
  Array.from({ length: n }, (_, i) => ({ x: r * Math.cos((2 * Math.PI * i) / n), y: r * Math.sin((2 * Math.PI * i) / n) }));
const rectangle: Screw[] = [
  { x: -30, y: -20 },
  { x: 30, y: -20 },
  { x: 30, y: 20 },
  { x: -30, y: 20 },
];

describe('the order of tightening', () => {
  it('takes every screw once, in any place and number', () => {
    const screw = fc.record({ x: fc.integer({ min: -50, max: 50 }), y: fc.integer({ min: -50, max: 50 }) });
    fc.assert(
      fc.property(fc.array(screw, { minLength: 2, maxLength: 12 }), fc.constantFrom(...SCHEMES), (screws, scheme) => {
        expect([...tighteningOrder(screws, scheme)].sort((a, b) => a - b)).toEqual(screws.map((_, i) => i));
      }),
    );
  });
  it('crosses: each second screw is opposite, and pairs follow each other crosswise', () => {
    expect(tighteningOrder(rectangle, 'cross')).toEqual([0, 2, 1, 3]);
    expect(tighteningOrder(circle(8), 'cross').slice(0, 4)).toEqual([0, 4, 2, 6]);
    expect(tighteningOrder(circle(2), 'cross')).toEqual([0, 1]);
  });
  it.each([3, 4, 5, 6, 7])('crosses %i screws with no more tilt than the best of all orders', (n) => {
    const tilt = (screws: Screw[], order: number[]) =>
      Math.max(
        ...order.map((_, k) =>
          Math.hypot(...(['x', 'y'] as const).map((c) => order.slice(0, k + 1).reduce((sum, i) => sum + screws[i][c], 0))),
        ),
      );
    const permutations = (rest: number[]): number[][] =>
      rest.length === 0 ? [[]] : rest.flatMap((i) => permutations(rest.filter((j) => j !== i)).map((p) => [i, ...p]));
    const bent = circle(n).map((s, i) => ({ x: s.x * (1 + 0.1 * (i % 3)), y: s.y }));
    const centre = { x: bent.reduce((a, s) => a + s.x, 0) / n, y: bent.reduce((a, s) => a + s.y, 0) / n };
    for (const screws of [circle(n), bent.map((s) => ({ x: s.x - centre.x, y: s.y - centre.y }))]) {
      const least = Math.min(...permutations(Array.from({ length: n - 1 }, (_, i) => i + 1)).map((p) => tilt(screws, [0, ...p])));
      expect(tilt(screws, tighteningOrder(screws, 'cross'))).toBeLessThanOrEqual(least * (1 + 1e-9));
    }
  });
  it('draws a star, never going to a neighbour while another is left', () => {
    for (const n of [5, 6, 7, 8, 12]) {
      const screws = circle(n);
      const order = tighteningOrder(screws, 'star');
      const far = order.slice(1, Math.floor(n / 2)).every((s, i) => {
        const apart = Math.abs(s - order[i]);
        return Math.min(apart, n - apart) > 1;
      });
      expect(far, String(n)).toBe(true);
    }
  });
  it('spirals from the middle outwards', () => {
    const screws = [...circle(4, 40), { x: 0, y: 0 }, ...circle(3, 20)];
    const order = tighteningOrder(screws, 'spiral');
    expect(order[0]).toBe(4);
    expect(order.slice(1, 4).sort()).toEqual([5, 6, 7]);
  });
  it('comes to its torque in even rounds', () => {
    expect(torqueRounds(0.6, 3).map((t) => Number(t.toFixed(3)))).toEqual([0.2, 0.4, 0.6]);
  });
});

describe('force and pressure', () => {
  it('follows VDI 2230 for an M4 at 0.12, by hand', () => {
    const thread = { ...METRIC_THREADS.M4, friction_thread: 0.12, friction_head: 0.12 };
    // arm 0.159·0.7 + 0.577·3.545·0.12 + 2.8·0.12 = 0.1113 + 0.24546 + 0.336 = 0.69276 mm
    expect(clampForce(1, thread)).toBeCloseTo(1000 / 0.6927558, 3);
    expect(clampForce(0.5, thread)).toBeCloseTo(clampForce(1, thread) / 2, 9);
    expect(springForce(12, 3)).toBe(36);
    expect(springForce(12, -1)).toBe(0);
  });
  it('knows the usual units of torque by their definition', () => {
    const nm = (unit: string) => TORQUE_UNITS.find((u) => u.unit === unit)?.nm;
    expect(nm('kgf·cm')).toBeCloseTo(9.80665 * 0.01, 12);
    expect(nm('lbf·in')).toBeCloseTo(4.4482216152605 * 0.0254, 9);
    expect(nm('ozf·in')).toBeCloseTo((4.4482216152605 * 0.0254) / 16, 9);
  });
  it('is even where the forces are, and names the corner that lifts', () => {
    const even = pressureOn({ length_mm: 40, width_mm: 30 }, rectangle, [60, 60, 60, 60]);
    // 240 N over 1200 mm² is 200 kPa
    expect(even.mean_kpa).toBeCloseTo(200, 9);
    expect(even.evenness).toBeCloseTo(1, 12);
    expect(even.centre).toEqual({ x: 0, y: 0 });
    const tilted = pressureOn({ length_mm: 40, width_mm: 30 }, rectangle, [100, 20, 20, 100]);
    // e = −20 mm, beyond l/6 = 6.7 mm: the +x edge lifts, p = (F/A)(1 ± 6e/l) = 200 (1 ± 3)
    expect(tilted.centre.x).toBeCloseTo(-20, 9);
    expect(tilted.corners_kpa.map((p) => Math.round(p))).toEqual([800, -400, -400, 800]);
    expect(tilted.evenness).toBeLessThan(0);
  });
  it('turns about the other axis as well', () => {
    const tilted = pressureOn({ length_mm: 40, width_mm: 30 }, rectangle, [100, 100, 20, 20]);
    // e = −13.3 mm in y: p = (F/A)(1 ± 6e/w) = 200 (1 ± 2.667)
    expect(tilted.centre.y).toBeCloseTo(-40 / 3, 9);
    expect(tilted.corners_kpa.map((p) => Math.round(p))).toEqual([733, 733, -333, -333]);
  });
  it('shows what three screws on an uneven triangle do', () => {
    const screws = [
      { x: -25, y: -15 },
      { x: 25, y: -15 },
      { x: 0, y: 30 },
    ];
    const alike = pressureOn({ length_mm: 30, width_mm: 30 }, screws, [50, 50, 50]);
    expect(alike.centre.x).toBeCloseTo(0, 9);
    expect(alike.centre.y).toBeCloseTo(0, 9);
    expect(alike.evenness).toBeCloseTo(1, 9);
    expect(pressureOn({ length_mm: 30, width_mm: 30 }, screws, [60, 50, 50]).evenness).toBeLessThan(0.9);
  });
});

describe('readScrews', () => {
  it('reads pairs in one line or several, with a typed or a true minus', () => {
    expect(readScrews('-40, -30; 40, -30\n0 35.5; −8, 9')).toEqual({
      screws: [
        { x: -40, y: -30 },
        { x: 40, y: -30 },
        { x: 0, y: 35.5 },
        { x: -8, y: 9 },
      ],
    });
  });
  it('says what is wrong', () => {
    expect(readScrews('1, 2')).toEqual({ problem: 'A cooler is held by 2 to 12 screws; 1 is given.' });
    expect(readScrews(Array.from({ length: 13 }, (_, i) => `${i}, 0`).join(';'))).toEqual({
      problem: 'A cooler is held by 2 to 12 screws; 13 are given.',
    });
    expect(readScrews('1, 2; left')).toEqual({ problem: '"left" is no place of a screw: x and y in mm, such as −40, −30.' });
    expect(readScrews('1, 2; 1, 2.1')).toEqual({ problem: 'Two screws are at 1, 2.1 mm.' });
    expect(readScrews('1, 2, 3; 4, 5')).toMatchObject({ problem: expect.stringMatching(/no place/) });
  });
  it('gives places in any arrangement an order with every screw once', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 })), {
          minLength: 2,
          maxLength: 12,
          selector: (p) => p.join(),
        }),
        (places) => {
          const read = readScrews(places.map((p) => p.join(', ')).join('; '));
          if (!('screws' in read)) throw new Error(read.problem);
          for (const scheme of SCHEMES)
            expect([...tighteningOrder(read.screws, scheme)].sort((a, b) => a - b)).toEqual(places.map((_, i) => i));
        },
      ),
    );
  });
});
