import { describe, expect, it } from 'vitest';
import { rowsOfMounts } from './mountRows';
import { readSetupTable } from './setupTable';

const of = (setup: string, material: string, ...values: number[]) => values.map((value) => ({ setup, material, value }));

describe('rows of mounts', () => {
  it("take a material's own scatter from four degrees of freedom on, else that of its set-up, else what is assumed", () => {
    const rows = rowsOfMounts(
      [...of('S1', 'A', 1, 2, 3, 4, 5), ...of('S1', 'B', 10, 12), ...of('S2', 'A', 3, 5), ...of('S2', 'B', 7, 8)],
      () => 2,
    );
    // own: 10 / 4 over five mounts; pooled: (10 + 2) / 5 over two; assumed: 4 over two, as S2 has two degrees of freedom
    expect(rows.map((r) => [r.setup, r.material, r.mean, r.variance, r.basis])).toEqual([
      ['S1', 'A', 3, 0.5, 'own'],
      ['S1', 'B', 11, 1.2, 'pooled'],
      ['S2', 'A', 4, 2, 'assumed'],
      ['S2', 'B', 7.5, 2, 'assumed'],
    ]);
    // near misses: with one mount less the own scatter does not count, with one more that of the set-up does
    const [a] = rowsOfMounts([...of('S1', 'A', 1, 2, 3, 4), ...of('S1', 'B', 10, 12)], () => null);
    expect(a.variance).toBeCloseTo((5 + 2) / 4 / 4, 12);
    expect(() => rowsOfMounts([...of('S1', 'A', 1, 2, 3), ...of('S1', 'B', 10, 12)], () => null)).toThrow(
      'it has 3 degrees of freedom, and 4 are needed',
    );
    expect(() => rowsOfMounts(of('S1', 'A', 2, 2, 2, 2, 2), () => null)).toThrow('All mounts of A in S1 have the same value');
    // where all are the same and something is assumed, that is taken: it is no steady hand
    expect(rowsOfMounts(of('S1', 'A', 2, 2, 2, 2, 2), () => 1)[0]).toMatchObject({ variance: 0.2, basis: 'assumed', mounts: 5 });
  });
});

describe('a table of set-ups', () => {
  it('is of means or of mounts', () => {
    const mounts = `setup,material,mount,value\n${[1, 2, 3, 4, 5].map((m) => `S1,A,${m},${m}`).join('\n')}`;
    expect(readSetupTable('t.csv', mounts, null)).toEqual([{ setup: 'S1', material: 'A', mean: 3, variance: 0.5 }]);
    expect(readSetupTable('t.csv', 'Setup;Material;Mean;Variance\nS1;A;3;0.5\n', null)).toEqual([
      { setup: 'S1', material: 'A', mean: 3, variance: 0.5 },
    ]);
  });

  it.each([
    ['setup,material\nS1,A\n', 'the column "mount" is missing'],
    ['setup,material,mean,variance\n', 'there is a header but no row below it'],
    ['setup,material,mean,variance\nS1,A,x,1\n', 'row 2, column "mean": "x" is not a number.'],
    ['setup,material,mean,variance\nS1,A,1,0\n', 'the variance of a mean is above 0.'],
    ['setup,material,mean,variance\nS1,,1,1\n', 'the material is empty.'],
    ['setup,material,mean,variance\nS1,A,1,1\nS1,A,2,1\n', 'A stands twice in S1'],
    ['setup,material,mount,value\nS1,A,1,1\nS1,A,2,2\n', 'Give it by --default-mount-sd.'],
  ])('is refused in a sentence: %s', (text, sentence) => {
    expect(() => readSetupTable('t.csv', text, null)).toThrow(sentence);
  });
});
