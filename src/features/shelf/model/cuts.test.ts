import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutProblems, nestEqual, nestMixed, nestSets, type PlacedCut, type Rectangle } from './cuts';

/** Counts what lies over an edge or over another; a check of its own for each pair takes longer than the laying. */
const apart = (placed: PlacedCut[], sheet: Rectangle) => {
  let wrong = 0;
  for (const [i, a] of placed.entries()) {
    if (a.x + a.length > sheet.length + 1e-6 || a.y + a.width > sheet.width + 1e-6) wrong++;
    for (let k = i + 1; k < placed.length; k++) {
      const b = placed[k];
      const free =
        a.x + a.length <= b.x + 1e-6 || b.x + b.length <= a.x + 1e-6 || a.y + a.width <= b.y + 1e-6 || b.y + b.width <= a.y + 1e-6;
      if (!free) wrong++;
    }
  }
  expect(wrong).toBe(0);
};
const side = fc.integer({ min: 3, max: 60 });

describe('cuts on a sheet', () => {
  it('lie both ways where that yields more: 5 pieces of 3 × 2 on 5 × 6, not 4', () => {
    expect(nestEqual({ length: 5, width: 6 }, { length: 3, width: 2 })).toHaveLength(5);
    expect(nestEqual({ length: 100, width: 100 }, { length: 50, width: 50 })).toHaveLength(4);
    expect(nestEqual({ length: 10, width: 10 }, { length: 11, width: 2 })).toEqual([]);
  });
  it('never overlap and never leave the sheet, and yield at least what one direction does', () => {
    fc.assert(
      fc.property(side, side, side, side, (l, w, a, b) => {
        const sheet = { length: 4 * l, width: 4 * w };
        const placed = nestEqual(sheet, { length: a, width: b });
        apart(placed, sheet);
        const one = Math.floor(sheet.length / a) * Math.floor(sheet.width / b);
        expect(placed.length).toBeGreaterThanOrEqual(one);
        expect(placed.length * a * b).toBeLessThanOrEqual(sheet.length * sheet.width);
      }),
      { numRuns: 60 },
    );
  });
  it('of several sizes lie beside each other, for as many mounts as the sheet serves', () => {
    const cuts = [
      { length: 30, width: 20 },
      { length: 14, width: 12 },
      { length: 14, width: 12 },
    ];
    const sheet = { length: 50, width: 50 };
    const { sets, placed } = nestSets(sheet, cuts);
    apart(placed, sheet);
    expect([sets, placed.length]).toEqual([2, 6]);
    expect(nestMixed({ length: 20, width: 20 }, cuts)).toBeNull();
    expect(nestSets({ length: 20, width: 20 }, cuts)).toEqual({ sets: 0, placed: [] });
  });
  it('are checked before they are made: too large for the sheet, too small for the part, standing over', () => {
    const part = { length: 30, width: 20 };
    expect(cutProblems('the lid', { length: 20, width: 30 }, part, { length: 100, width: 100 })).toEqual([]);
    expect(cutProblems('the lid', { length: 31.9, width: 20 }, part, null)).toEqual([]);
    expect(cutProblems('the lid', { length: 33, width: 20 }, part, null)[0]).toMatch(/overhangs the lid \(30 × 20 mm\) by 1\.5 mm a side/);
    expect(cutProblems('the lid', { length: 30, width: 18 }, part, null)[0]).toMatch(/leaves 10 % of the lid/);
    expect(cutProblems('the lid', { length: 30, width: 20 }, part, { length: 25, width: 25 })[0]).toMatch(
      /does not fit on a sheet of 25 × 25 mm/,
    );
  });
});
