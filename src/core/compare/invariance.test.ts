import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { write, writeMargin, writeSigned } from '#core/text/words';
import { analyse } from './analyse';
import { compactLetters } from './letters';
import type { AnalysisRow } from './rows';
import { varianceComponents } from './scatter';

/** Studies of two to five specimens with two to five mounts each, values on a grid of 0.01 K. */
const study = fc
  .array(fc.array(fc.integer({ min: 3000, max: 6000 }), { minLength: 2, maxLength: 5 }), { minLength: 2, maxLength: 5 })
  .map((groups) =>
    groups.flatMap((values, s) => values.map((v, m): AnalysisRow => ({ specimen: `S${s}`, mount: String(m), value: v / 100 }))),
  );
const plain = { chances: false };
const shape = (a: ReturnType<typeof analyse>) => a.pairs.map((p) => ({ verdict: p.verdict, firm: p.firm }));

describe('a comparison', () => {
  it('does not change where all values move together', () => {
    fc.assert(
      fc.property(study, fc.integer({ min: -20, max: 200 }), (rows, shift) => {
        const before = analyse(rows, plain);
        const after = analyse(
          rows.map((r) => ({ ...r, value: r.value + shift })),
          plain,
        );
        before.pairs.forEach((p, i) => {
          expect(after.pairs[i].difference).toBeCloseTo(p.difference, 8);
          expect(after.pairs[i].ci?.[0]).toBeCloseTo(p.ci?.[0] as number, 6);
          expect(after.pairs[i].p_adjusted).toBeCloseTo(p.p_adjusted as number, 6);
        });
      }),
      { numRuns: 40 },
    );
  });
  it('turns round with its specimens', () => {
    fc.assert(
      fc.property(study, (rows) => {
        const turned = analyse([...rows].reverse(), plain);
        for (const p of analyse(rows, plain).pairs) {
          const q = turned.pairs.find((o) => o.a === p.b && o.b === p.a);
          expect(q?.difference).toBeCloseTo(-p.difference, 8);
          expect(q?.ci?.[0]).toBeCloseTo(-(p.ci as [number, number])[1], 6);
        }
      }),
      { numRuns: 40 },
    );
  });
  it('gives the same for doubled values and a doubled margin', () => {
    fc.assert(
      fc.property(study, (rows) => {
        const doubled = rows.map((r) => ({ ...r, value: 2 * r.value }));
        expect(shape(analyse(doubled, { ...plain, margin: 2 }))).toEqual(shape(analyse(rows, { ...plain, margin: 1 })));
      }),
      { numRuns: 40 },
    );
  });
  it('never prints a number that is none, and its letters follow its pairs', () => {
    fc.assert(
      fc.property(study, (rows) => {
        const result = analyse(rows, plain);
        expect(JSON.stringify(result)).not.toMatch(/NaN|Infinity/);
        const letters = new Map(result.specimens.map((s) => [s.specimen, s.group]));
        for (const p of result.pairs) {
          const share = [...(letters.get(p.a) ?? '')].some((l) => letters.get(p.b)?.includes(l));
          expect(share).toBe(p.p_adjusted === null || p.p_adjusted >= 0.05);
        }
      }),
      { numRuns: 60 },
    );
  });
  it('narrows with a lower confidence', () => {
    fc.assert(
      fc.property(study, (rows) => {
        const wide = analyse(rows, { ...plain, confidence: 0.99 });
        analyse(rows, { ...plain, confidence: 0.9 }).pairs.forEach((p, i) => {
          const width = (ci: [number, number] | null) => (ci ? ci[1] - ci[0] : 0);
          expect(width(p.ci)).toBeLessThanOrEqual(width(wide.pairs[i].ci) + 1e-9);
        });
      }),
      { numRuns: 30 },
    );
  });
});

describe('letters of any graph', () => {
  it('are shared exactly where a pair is not significant', () => {
    const graph = fc
      .integer({ min: 1, max: 14 })
      .chain((n) =>
        fc.tuple(
          fc.constant(n),
          fc.array(fc.tuple(fc.integer({ min: 0, max: n - 1 }), fc.integer({ min: 0, max: n - 1 })), { maxLength: n * n }),
        ),
      );
    fc.assert(
      fc.property(graph, ([n, edges]) => {
        const names = Array.from({ length: n }, (_, i) => `S${i}`);
        const differs = new Set(edges.filter(([a, b]) => a !== b).flatMap(([a, b]) => [`${a}/${b}`, `${b}/${a}`]));
        const letters = compactLetters(
          names,
          edges.filter(([a, b]) => a !== b).map(([a, b]): [string, string] => [names[a], names[b]]),
        );
        for (let i = 0; i < n; i++) {
          expect(letters.get(names[i])).not.toBe('');
          for (let j = 0; j < n; j++) {
            if (i === j) continue;
            const share = [...(letters.get(names[i]) ?? '')].some((l) => letters.get(names[j])?.includes(l));
            expect(share).toBe(!differs.has(`${i}/${j}`));
          }
        }
      }),
      { numRuns: 150 },
    );
  });
});

describe('scatter of runs and mounts', () => {
  it('cannot be told where no mount has two runs, or runs never differ', () => {
    const rows = [40, 41, 42].map((value, i) => ({ specimen: 'A', mount: String(i), value }));
    expect(varianceComponents(rows)).toBeNull();
    expect(varianceComponents([...rows, ...rows])).toBeNull();
  });
  it('is all run scatter where mounts agree', () => {
    const rows = [0, 1, 2, 3].flatMap((m) => [40, 41].map((value) => ({ specimen: 'A', mount: String(m), value })));
    const found = varianceComponents(rows);
    expect(found).toMatchObject({ mount_sd: 0, singular: true });
    expect(found?.run_sd).toBeGreaterThan(0.4);
  });
});

describe('figures in sentences', () => {
  it('are written with a true minus, honest digits and no negative nought', () => {
    expect([write(-1.25, 1), write(-0.04, 1), write(3, 2), writeSigned(1.9, 1), writeSigned(-1.9, 1), writeSigned(0.01, 1)]).toEqual([
      '−1.3',
      '0.0',
      '3.00',
      '+1.9',
      '−1.9',
      '0.0',
    ]);
    expect([writeMargin(1), writeMargin(0.5), writeMargin(1 / 140)]).toEqual(['1', '0.5', '0.0071']);
  });
});
