import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plateResistance } from './spreading';
import { calibrateStack, dieSpread, lidRemoved, perfectInterface, type Stack, type StackLayer, solveStack, withLayer } from './stack';

const TM6: Stack = {
  power_w: 140,
  room_c: 22,
  layers: [
    { key: 'die', name: 'Die', kind: 'block', k: 120, thickness_mm: 0.77, area_mm2: 180 },
    { key: 'interface_1', name: 'Under the lid', kind: 'interface', k: 4, thickness_mm: 0.03, area_mm2: 180, contact_mm2_k_per_w: 2 },
    { key: 'lid', name: 'Lid', kind: 'plate', k: 390, thickness_mm: 3, source_mm2: 180, area_mm2: 1369 },
    { key: 'interface_2', name: 'Under the cooler', kind: 'interface', k: 5, thickness_mm: 0.05, area_mm2: 1369, contact_mm2_k_per_w: 5 },
    { key: 'base', name: 'Base', kind: 'plate', k: 390, thickness_mm: 4, source_mm2: 1369, area_mm2: 1600 },
    { key: 'sink', name: 'Sink to the air', kind: 'known', k_per_w: 0.14 },
  ],
};

/** Node temperatures of a chain of resistances, die first, by elimination on the nodal equations; an independent way to the same answer. */
function nodalTemperatures(resistances: number[], power: number, room: number): number[] {
  const n = resistances.length;
  const g = resistances.map((r) => 1 / r);
  const a = Array.from({ length: n }, () => new Array<number>(n + 1).fill(0));
  for (let i = 0; i < n; i++) {
    a[i][i] = g[i] + (i > 0 ? g[i - 1] : 0);
    if (i + 1 < n) a[i][i + 1] = -g[i];
    if (i > 0) a[i][i - 1] = -g[i - 1];
    a[i][n] = (i === 0 ? power : 0) + (i === n - 1 ? g[i] * room : 0);
  }
  for (let i = 0; i < n; i++) {
    for (let k = i + 1; k < n; k++) {
      const f = a[k][i] / a[i][i];
      for (let j = i; j <= n; j++) a[k][j] -= f * a[i][j];
    }
  }
  const t = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) t[i] = (a[i][n] - a[i].slice(i + 1, n).reduce((s, v, j) => s + v * t[i + 1 + j], 0)) / a[i][i];
  return t;
}

describe('a stack from the die to the room', () => {
  it('has layers that sum to the whole, and agrees with its network solved directly, changed or not', () => {
    const thinner = withLayer(TM6, 'die', (l) => (l.kind === 'block' ? { ...l, thickness_mm: 0.4 } : l));
    for (const stack of [TM6, thinner, lidRemoved(TM6), { ...TM6, room_c: 10 }]) {
      const answer = solveStack(stack);
      expect(answer.layers.reduce((sum, l) => sum + l.rise_k, 0)).toBeCloseTo(answer.rise_k, 9);
      expect(answer.layers.reduce((sum, l) => sum + l.share, 0)).toBeCloseTo(1, 12);
      const [die] = nodalTemperatures(
        answer.layers.map((l) => l.k_per_w),
        stack.power_w,
        stack.room_c,
      );
      expect(answer.die_c).toBeCloseTo(die, 8);
    }
  });
  it('takes its figures from areas, bond lines and conductivities', () => {
    const [die, under] = solveStack(TM6).layers;
    expect(die.k_per_w).toBeCloseTo(0.77e-3 / (120 * 180e-6), 12);
    expect(under.k_per_w).toBeCloseTo((0.03e-3 / 4 + 2e-6) / 180e-6, 12);
  });
  it('leaves a limit that no material beats, and gains by whatever is bettered', () => {
    const now = solveStack(TM6);
    const perfect = solveStack(perfectInterface(TM6, 'interface_2'));
    expect(now.rise_k - perfect.rise_k).toBeGreaterThanOrEqual(now.layers[3].rise_k - 0.5);
    expect(perfect.layers[3].k_per_w).toBe(0);
    fc.assert(
      fc.property(fc.constantFrom(...TM6.layers.map((l) => l.key)), fc.double({ min: 0.2, max: 0.95, noNaN: true }), (key, factor) => {
        const better = withLayer(
          TM6,
          key,
          (l): StackLayer => (l.kind === 'known' ? { ...l, k_per_w: l.k_per_w * factor } : { ...l, k: l.k / factor }),
        );
        expect(solveStack(better).rise_k).toBeLessThan(now.rise_k);
      }),
    );
  });
  it('without its lid is heated by the die alone', () => {
    const bare = lidRemoved(TM6);
    expect(bare.layers.map((l) => l.key)).toEqual(['die', 'interface_1', 'base', 'sink']);
    expect(bare.layers[2]).toMatchObject({ kind: 'plate', source_mm2: 180 });
    expect(lidRemoved(bare)).toBe(bare);
  });
});

describe('a measured whole', () => {
  it('is met exactly by the layer that is fitted, with the uncertainty of all', () => {
    fc.assert(
      fc.property(fc.constantFrom(...TM6.layers.map((l) => l.key)), fc.double({ min: 0.35, max: 1, noNaN: true }), (key, whole) => {
        const fitted = calibrateStack(TM6, key, [{ k_per_w: whole, se: 0.002 }]);
        if (!fitted.ok) return expect(fitted.problem).toContain('less than the other layers alone');
        const answer = solveStack(fitted.stack);
        expect(answer.k_per_w).toBeCloseTo(whole, 10);
        expect(fitted.u).toBeGreaterThan(0.002);
      }),
    );
  });
  it('of several weighs them by their errors', () => {
    const fitted = calibrateStack(TM6, 'sink', [
      { k_per_w: 0.4, se: 0.001 },
      { k_per_w: 0.5, se: 1 },
    ]);
    expect(fitted.ok && solveStack(fitted.stack).k_per_w).toBeCloseTo(0.4, 4);
  });
  it('below its parts is refused with both figures', () => {
    const refused = calibrateStack(TM6, 'sink', [{ k_per_w: 0.05, se: 0 }]);
    expect(refused).toMatchObject({
      ok: false,
      problem: expect.stringMatching(/^The measured whole of 0\.050 K\/W is less than the other layers alone, 0\.\d+ K\/W/),
    });
    expect(calibrateStack(TM6, 'sink', []).ok).toBe(false);
  });
});

describe('spreading in a plate', () => {
  it('is none where the source covers it, and grows as the source shrinks', () => {
    const plate = { k: 390, thickness: 0.003, area: 1369e-6 };
    expect(plateResistance({ ...plate, source_area: 1369e-6 }, 0.2).spreading).toBe(0);
    const at = (mm2: number) => plateResistance({ ...plate, source_area: mm2 * 1e-6 }, 0.2).spreading;
    expect(at(100)).toBeGreaterThan(at(300));
    expect(at(300)).toBeGreaterThan(at(1000));
  });
  it.each([0.05, 0.1, 0.2, 0.4])('of a square on a long square bar is the published one: ε = %f', (ratio) => {
    // Negus, Yovanovich & Beck (1989): 0.47320 − 0.62075 ε + 0.1198 ε³ in units of 1/(k √A)
    const { spreading } = plateResistance({ k: 2, thickness: 5, area: 1, source_area: ratio ** 2 }, 0);
    expect((spreading * 2 * ratio) / (0.4732 - 0.62075 * ratio + 0.1198 * ratio ** 3)).toBeCloseTo(1, 2);
  });
  it('stays near the closed form of discs, which is off by a fifth for thin wide plates and large sources', () => {
    // Lee, Song, Au & Moran (1995)
    const closed = (k: number, t: number, source: number, area: number, beyond: number) => {
      const [a, b] = [source, area].map((v) => Math.sqrt(v / Math.PI));
      const lambda = Math.PI + b / (Math.sqrt(Math.PI) * a);
      const through = Math.tanh((lambda * t) / b);
      const ratio = lambda * Math.PI * k * b * beyond;
      return (0.5 * (1 - a / b) ** 1.5 * ((through + ratio) / (1 + ratio * through))) / (Math.sqrt(Math.PI) * k * a);
    };
    const share = (t: number, source: number, area: number, beyond: number) =>
      closed(390, t, source, area, beyond) / plateResistance({ k: 390, thickness: t, source_area: source, area }, beyond).spreading;
    for (const [t, source, area, beyond] of [
      [0.003, 200e-6, 1400e-6, 0.1],
      [0.0005, 200e-6, 1400e-6, 0.1],
      [0.005, 100e-6, 0.01, 0.05],
    ])
      expect(Math.abs(share(t, source, area, beyond) - 1)).toBeLessThan(0.1);
    expect(share(0.003, 1000e-6, 1400e-6, 0.1)).toBeGreaterThan(1.15);
  });
});

describe('several dies', () => {
  it('share what lies beyond, and spread by their own power and path', () => {
    const { dies, spread_k } = dieSpread(
      [
        { name: 'A', power_w: 90, own_k_per_w: 0.1 },
        { name: 'B', power_w: 30, own_k_per_w: 0.1 },
      ],
      0.2,
      22,
    );
    expect(dies.map((d) => d.c)).toEqual([22 + 24 + 9, 22 + 24 + 3]);
    expect(spread_k).toBe(6);
    expect(dieSpread([], 0.2, 22).spread_k).toBe(0);
  });
});
