import { describe, expect, it } from 'vitest';
import type { CornerZone, Imprint } from '#core/image/types';
import { check } from '#rules/validation';
import { cornerWords, coverWords, imprintFigures, PhotographAbout } from './imprint';

const zones = (...states: CornerZone['state'][]): CornerZone[] =>
  (['upper left', 'upper right', 'lower right', 'lower left'] as const).map((place, i) => ({
    place,
    cover: 0.8,
    tone: 1,
    state: states[i],
  }));

describe('corners in words', () => {
  it('name what is odd, and nothing where all are even', () => {
    expect(cornerWords({ corners: zones('even', 'even', 'even', 'even') })).toBe('');
    expect(cornerWords({ corners: zones('thin', 'even', 'thin', 'thick') })).toBe('thin: upper left, lower right; thick: lower left');
    expect(cornerWords({ corners: zones('thin', 'thin', 'thin', 'thin') })).toBe('all thin');
  });
});

const print: Imprint = {
  ...{
    cover: 0.8123,
    cover_range: [0.8, 0.82],
    unsure: [],
    edge_mm: 0.4,
    rings: [1, 1, 0.7],
    corners: zones('even', 'even', 'even', 'thin'),
  },
  voids: { share: 0.01, count: 2, largest_mm2: 8, list: [] },
  offset: { x_mm: 0.5, y_mm: -1, r_mm: Math.hypot(0.5, 1) },
  ...{ squeeze_out: null, glare: 0.02, separation: 12, threshold: 0.5, mask: { columns: 1, rows: 1, margin: 0, cells: new Uint8Array(1) } },
};

describe('figures of a print', () => {
  it('keep what is told, and that squeeze-out was not', () => {
    expect(imprintFigures(print)).toEqual({
      ...{ cover: 0.8123, cover_low: 0.8, cover_high: 0.82, voids: 0.01, void_count: 2, offset_x_mm: 0.5, offset_y_mm: -1 },
      ...{ squeeze_out: null, glare: 0.02, corners: 'thin: lower left', unsure: '' },
    });
    expect(imprintFigures({ ...print, squeeze_out: { share: 0.03, reach_mm: 1.5 } }).squeeze_out).toBe(0.03);
  });
  it('tell a cover that is unsure as a range, with the reason', () => {
    expect(coverWords(imprintFigures(print))).toBe('81.2 %');
    const unsure = imprintFigures({ ...print, cover_range: [0.71, 0.88], unsure: ['soft_edges', 'overexposed'] });
    expect(unsure.unsure).toBe('the edges are soft, a part is overexposed');
    expect(coverWords(unsure)).toBe('71 to 88 %');
  });
  it('pass the rules by which they are stored', () => {
    const corners = [0, 1, 2, 3].map((i) => ({ x: 0.1 * i, y: 0.2 }));
    const reading = { corners, length_mm: 37, width_mm: 30, mirrored: true, face_goes_on: true, swapped: false, threshold: null };
    const about = { who: 'EB', face: 'base', reading, figures: imprintFigures(print) };
    expect(check(PhotographAbout, about)).toMatchObject({ face: 'base', figures: { cover: 0.8123 }, reading: { threshold: null } });
    const refuse = (change: object) => expect(() => check(PhotographAbout, { ...about, ...change }));
    refuse({ reading: { ...reading, length_mm: 0.5 } }).toThrow('The length should be between 1 and 1000 mm.');
    refuse({ reading: { ...reading, width_mm: 2000 } }).toThrow('The width should be between 1 and 1000 mm.');
    refuse({ reading: { ...reading, corners: [...corners, corners[0]] } }).toThrow('An imprint has four corners.');
    refuse({ figures: { ...imprintFigures(print), voids: -0.1 } }).toThrow('The voids should be a share from 0 to 1.');
    refuse({ who: 'x'.repeat(21) }).toThrow('Initials hold up to 20 characters.');
    refuse({ caption: 5 }).toThrow('A caption holds up to 200 characters.');
  });
});
