import { describe, expect, it } from 'vitest';
import { IMPRINT_KINDS, type ImprintKind } from '../../../tests/imprintKinds.ts';
import { measuredJpeg } from '../../../tests/jpegImprint';

const CASES = 2;

describe('photographs kept as JPEG, of each kind', () => {
  // the whole table is in docs/calibration.md; here a few of each, other seeds than there
  for (const kind of Object.keys(IMPRINT_KINDS) as ImprintKind[]) {
    it(`${IMPRINT_KINDS[kind]}: never off by over 5 points unless told unsure`, { timeout: 120_000 }, async () => {
      let measured = 0;
      for (let seed = 901; seed <= 900 + CASES; seed++) {
        const { print, truth } = await measuredJpeg(kind, seed);
        if (!print) continue;
        measured++;
        const told = `${seed}: ${print.cover} for ${truth.cover}, range ${print.cover_range}`;
        if (print.unsure.length === 0) expect(Math.abs(print.cover - truth.cover), told).toBeLessThan(0.05);
        expect(print.cover_range[0], told).toBeLessThanOrEqual(print.cover);
        expect(print.cover_range[1], told).toBeGreaterThanOrEqual(print.cover);
        if (kind.startsWith('edges')) expect(print.unsure, told).toContain('soft_edges');
        if (kind === 'ordinary') expect(print.unsure, told).toEqual([]);
      }
      expect(measured).toBeGreaterThan(0);
    });
  }
});
