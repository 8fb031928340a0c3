import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { type FactorCell, factorialEffects } from './factorial';
import { fitOneWay } from './oneWay';

const plain = { confidence: 0.95, scatter: 'pooled' as const };
const cells = (means: number[][], scatter: (i: number) => number = () => 0, n = 4): FactorCell[] =>
  means.flatMap((row, i) =>
    row.map((m, j) => ({ a: `A${i}`, b: `B${j}`, values: Array.from({ length: n }, (_, k) => m + scatter(k + 10 * i + 100 * j)) })),
  );

describe('effects of two crossed factors', () => {
  it('are the differences of marginal means, and what is left over', () => {
    const effects = factorialEffects(
      cells(
        [
          [40, 42],
          [43, 48],
        ],
        (k) => (k % 2 === 0 ? 0.5 : -0.5),
      ),
      plain,
    );
    expect(effects?.map((e) => [e.kind, e.value])).toEqual([
      ['a', -4.5],
      ['b', -3.5],
      ['interaction', 3],
    ]);
    // a main effect halves what an interaction sums: its error is half as large
    const [a, b, ab] = effects ?? [];
    expect(a.se).toBeCloseTo(ab.se / 2, 12);
    expect(b.se).toBeCloseTo(a.se, 12);
    expect(a.df).toBe(12);
  });
  it('use the scatter within the cells, as a one-way model of them does', () => {
    const random = seededRandom(4);
    const drawn = cells(
      [
        [40, 41, 44],
        [42, 43, 47],
      ],
      () => random.normal(),
      5,
    );
    const fit = fitOneWay(drawn.flatMap((c) => c.values.map((value, i) => ({ specimen: `${c.a} ${c.b}`, mount: String(i), value }))));
    const effects = factorialEffects(drawn, plain) ?? [];
    expect(effects.map((e) => e.kind).filter((k) => k === 'interaction')).toHaveLength(3);
    const [main] = effects;
    expect(main.se).toBeCloseTo((fit.sd as number) * Math.sqrt(6 / (9 * 5)), 10);
    expect(main.df).toBe(24);
  });
  it('have intervals that hold in 95 of 100 studies, with scatter alike or not', () => {
    const random = seededRandom(9);
    for (const scatter of ['pooled', 'separate'] as const) {
      const held = [0, 0, 0];
      for (let study = 0; study < 1000; study++) {
        const sd = (i: number) => (scatter === 'separate' && i >= 100 ? 1 : 0.5);
        const effects =
          factorialEffects(
            cells(
              [
                [40, 40.8],
                [41.7, 42.5],
              ],
              (i) => sd(i) * random.normal(),
              6,
            ),
            { confidence: 0.95, scatter },
          ) ?? [];
        [-1.7, -0.8, 0].forEach((truth, i) => {
          if (effects[i].ci[0] <= truth && truth <= effects[i].ci[1]) held[i]++;
        });
      }
      for (const h of held) {
        expect(h).toBeGreaterThanOrEqual(930);
        expect(h).toBeLessThanOrEqual(970);
      }
    }
  });
  it('are not told where a combination was not mounted, or nothing was mounted twice', () => {
    expect(
      factorialEffects(
        cells([
          [40, 41],
          [42, 43],
        ]).slice(0, 3),
        plain,
      ),
    ).toBeNull();
    expect(factorialEffects(cells([[40, 41]]), plain)).toBeNull();
    expect(
      factorialEffects(
        cells(
          [
            [40, 41],
            [42, 43],
          ],
          () => 0,
          1,
        ),
        plain,
      ),
    ).toBeNull();
  });
});
