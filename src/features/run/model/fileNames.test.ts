import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { beforeFirst, isBeforeAfter, readNames } from './fileNames';

const read = (...names: string[]) => readNames(names.map((name) => ({ name })));
const specimens = (...names: string[]) => read(...names).parts.map((p) => p.specimen);

describe('what file names say', () => {
  it.each([
    ['amber_nine_mount3_run2.csv', { specimen: 'Amber nine', mount: 3, run: 2, index: null }],
    ['Loam White m2 r1.log', { specimen: 'Loam White', mount: 2, run: 1, index: null }],
    ['2026-06-01_0912 slip-felt-0.5 Mount 01.tsv', { specimen: 'Slip felt 0.5', mount: 1, run: null, index: null }],
    ['wick 60.csv', { specimen: 'Wick 60', mount: null, run: null, index: null }],
    ['log-0231.csv', { specimen: null, mount: null, run: null, index: 231 }],
    ['20260601_091200.csv', { specimen: null, mount: null, run: null, index: null }],
    ['export (2).txt', { specimen: null, mount: null, run: null, index: 2 }],
    ['01.06.2026 Größe Ü.csv', { specimen: 'Größe Ü', mount: null, run: null, index: null }],
    ['.csv', { specimen: null, mount: null, run: null, index: null }],
  ])('%s', (name, parts) => {
    expect(read(name).parts[0]).toEqual(parts);
  });

  it('takes what all have in common as the title, and leaves each its own words', () => {
    const { title, parts } = read('hut_test_amber_mount1.csv', 'hut_test_birch_mount1.csv', 'hut_test_amber_mount2.csv');
    expect(title).toBe('Hut test');
    expect(parts.map((p) => p.specimen)).toEqual(['Amber', 'Birch', 'Amber']);
    // one thing alone keeps its whole name
    expect(read('amber m1.csv', 'amber m2.csv')).toMatchObject({ title: 'Amber', parts: [{ specimen: 'Amber' }, { specimen: 'Amber' }] });
    // nothing is taken off where nothing would be left
    expect(specimens('amber.csv', 'amber nine.csv')).toEqual(['Amber', 'Amber nine']);
    expect(read('a.csv', 'b.csv', 'c.csv', 'd.csv').title).toBe('A, B and 2 others');
    expect(read('log1.csv', 'log2.csv').title).toBeNull();
    expect(readNames([{ name: 'a.csv', folder: 'summer_hut' }]).title).toBe('Summer hut');
  });

  it('tells a number that counts files from one that is part of a name', () => {
    expect(read('amber_1.csv', 'amber_2.csv', 'amber_3.csv').parts).toMatchObject([{ index: 1 }, { index: 2 }, { index: 3 }]);
    expect(specimens('wick_60.csv', 'wick_90.csv')).toEqual(['Wick 60', 'Wick 90']);
    expect(specimens('bramble_5.csv', 'bramble_3.csv', 'alder.csv')).toEqual(['Bramble 5', 'Bramble 3', 'Alder']);
    expect(specimens('bramble_5_mount1.csv', 'bramble_1_mount1.csv', 'loam_mount1.csv')).toEqual(['Bramble 5', 'Bramble 1', 'Loam']);
    // behind a mount it counts the runs
    expect(read('amber_mount2_1.csv', 'amber_mount2_2.csv').parts).toMatchObject([
      { mount: 2, run: 1 },
      { mount: 2, run: 2 },
    ]);
  });

  it('spells one name one way', () => {
    expect(specimens('Amber-Nine m1.csv', 'amber nine M2.csv', 'birch m1.csv')).toEqual(['Amber Nine', 'Amber Nine', 'Birch']);
  });

  it('knows a before and after', () => {
    expect(isBeforeAfter(['Before', 'After'])).toBe(true);
    expect(isBeforeAfter(['Old paste', 'Repasted'])).toBe(true);
    expect(isBeforeAfter(['Amber', 'Birch'])).toBe(false);
    expect(isBeforeAfter(['Before'])).toBe(false);
    expect(['After', 'Before'].sort(beforeFirst)).toEqual(['Before', 'After']);
  });

  it('finds what was written, whatever the names are', () => {
    const word = fc
      .stringMatching(/^[a-z]{4,9}$/)
      .filter(
        (w) =>
          !/^(?:test|logs?|data|runs?|temps?|files?|trace|final|copy|thermal|record.*|result.*|sensor.*|export.*|output|capture|untitled|unnamed|cycle|pass|mount|temperature|temperatures|measurement|recording|tests)$/.test(
            w,
          ),
      );
    fc.assert(
      fc.property(
        fc.uniqueArray(word, { minLength: 2, maxLength: 6 }),
        fc.constantFrom('_', '-', ' '),
        fc.integer({ min: 1, max: 4 }),
        (names, gap, mounts) => {
          const files = names.flatMap((n) => Array.from({ length: mounts }, (_, m) => [n, `mount${m + 1}`, 'run1'].join(gap)));
          const { parts } = readNames(files.map((f) => ({ name: `${f}.csv` })));
          parts.forEach((p, i) => {
            expect(p.specimen?.toLowerCase()).toBe(names[Math.floor(i / mounts)]);
            expect(p.mount).toBe((i % mounts) + 1);
            expect(p.run).toBe(1);
          });
        },
      ),
      { numRuns: 200 },
    );
  });
});
