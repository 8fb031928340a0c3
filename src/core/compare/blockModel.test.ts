import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blockDifferenceSe, blockEffect, blockMeans, fitBlocks, pairedByBlock } from './blockModel';
import { linkedComponents } from './components';
import { fitOneWay } from './oneWay';

interface Row {
  specimen: string;
  mount: string;
  block: string;
  value: number;
}

/** Designs of two to four specimens over two to five days, each cell made or not, values on a grid of 0.01 K. */
const design = fc
  .tuple(
    fc.integer({ min: 2, max: 4 }),
    fc.integer({ min: 2, max: 5 }),
    fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 20, maxLength: 20 }),
    fc.array(fc.integer({ min: 3000, max: 6000 }), { minLength: 20, maxLength: 20 }),
  )
  .map(([k, days, made, values]) => {
    const rows: Row[] = [];
    for (let s = 0; s < k; s++)
      for (let d = 0; d < days; d++) {
        const at = s * 5 + d;
        // one cell in five is empty, but each specimen has its first day
        if (d > 0 && made[at] < 2) continue;
        rows.push({ specimen: `S${s}`, mount: `M${d}`, block: `D${d}`, value: values[at] / 100 });
      }
    return rows;
  });

describe('an additive model of specimens and blocks', () => {
  it('does not see what a whole day shifts', () => {
    fc.assert(
      fc.property(design, fc.integer({ min: -30, max: 30 }), (rows, shift) => {
        const before = fitBlocks(rows);
        const after = fitBlocks(rows.map((r) => (r.block === 'D1' ? { ...r, value: r.value + shift } : r)));
        expect(after.sd ?? 0).toBeCloseTo(before.sd ?? 0, 6);
        const difference = (f: typeof before, i: number) => f.one_way.groups[i].offset - f.one_way.groups[0].offset;
        before.one_way.groups.forEach((_, i) => {
          if (before.component[i] === before.component[0]) expect(difference(after, i)).toBeCloseTo(difference(before, i), 6);
        });
      }),
      { numRuns: 60 },
    );
  });
  it('has residuals that sum to nothing in every specimen and every block', () => {
    fc.assert(
      fc.property(design, (rows) => {
        const fit = fitBlocks(rows);
        for (const key of ['specimen', 'block'] as const) {
          for (const name of new Set(rows.map((r) => r[key]))) {
            const sum = rows.reduce((total, r, i) => (r[key] === name ? total + fit.rows[i].residual : total), 0);
            expect(sum).toBeCloseTo(0, 7);
          }
        }
        // leverages sum to the number of coefficients
        expect(fit.rows.reduce((sum, r) => sum + r.leverage, 0)).toBeCloseTo(rows.length - fit.df, 7);
      }),
      { numRuns: 60 },
    );
  });
  it('in a complete design has the means of the one-way model, and a scatter of its own', () => {
    const rows = [40, 42, 44, 41, 43.2, 45].map((value, i) => ({
      specimen: i < 3 ? 'A' : 'B',
      mount: `M${i % 3}`,
      block: `D${i % 3}`,
      value,
    }));
    const fit = fitBlocks(rows);
    const plain = fitOneWay(rows);
    fit.one_way.groups.forEach((g, i) => {
      expect(g.mean).toBeCloseTo(plain.groups[i].mean, 12);
    });
    expect(fit.sd).toBeLessThan(0.1);
    expect(plain.sd).toBeGreaterThan(1.9);
    expect(blockEffect(fit)?.p).toBeLessThan(0.01);
    expect(blockMeans(fit, 0.95)[0].df).toBe(2);
    // two specimens in complete blocks: the model and the paired differences are the same test
    const paired = pairedByBlock(rows, 'A', 'B');
    expect(paired?.se).toBeCloseTo(blockDifferenceSe(fit, 0, 1) ?? 0, 12);
    expect(paired?.df).toBe(2);
  });
  it('tells nothing of a pair that no chain of blocks links', () => {
    const rows = [
      { specimen: 'A', mount: '1', block: 'D1', value: 40 },
      { specimen: 'A', mount: '2', block: 'D2', value: 41 },
      { specimen: 'B', mount: '1', block: 'D3', value: 50 },
      { specimen: 'B', mount: '2', block: 'D3', value: 50.5 },
    ];
    const fit = fitBlocks(rows);
    expect(fit.component).toEqual([0, 1]);
    expect(fit.df).toBe(1);
    expect(blockDifferenceSe(fit, 0, 1)).toBeNull();
    expect(pairedByBlock(rows, 'A', 'B')).toBeNull();
  });
  it('that fits to the last digit has no scatter instead of a rounding', () => {
    const rows = [0, 1, 2].flatMap((d) =>
      ['A', 'B'].map((s, i) => ({ specimen: s, mount: `${d}`, block: `D${d}`, value: 1000.1 + 0.7 * d + i })),
    );
    expect(fitBlocks(rows).sd).toBe(0);
    expect(blockEffect(fitBlocks(rows))).toBeNull();
    expect(pairedByBlock(rows, 'A', 'B')).toMatchObject({ se: 0, df: null });
  });
});

describe('what links specimens', () => {
  it('is any chain of shared blocks', () => {
    const links = linkedComponents([
      { specimen: 'A', block: '1' },
      { specimen: 'B', block: '1' },
      { specimen: 'B', block: '2' },
      { specimen: 'C', block: '2' },
      { specimen: 'D', block: '3' },
    ]);
    expect(links.count).toBe(2);
    expect([...links.specimens.values()]).toEqual([0, 0, 0, 1]);
    expect(links.blocks.get('3')).toBe(1);
  });
  it('takes a specimen and a block of one name for two', () => {
    expect(
      linkedComponents([
        { specimen: 'X', block: 'Y' },
        { specimen: 'Y', block: 'X' },
      ]).count,
    ).toBe(2);
  });
});
