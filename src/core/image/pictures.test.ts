import { describe, expect, it } from 'vitest';
import { foundPicture, stateColour, straightPicture } from './pictures';
import type { Imprint, ScoredPrint } from './types';

const light = (v: number) => Float32Array.of(v, v, v);

describe('pictures of a print', () => {
  it('show linear light as sRGB levels, by the standard', () => {
    // IEC 61966-2-1: 0 is 0, 1 is 255, and level 128 is linear 0.2159
    const picture = straightPicture({
      straight: { columns: 3, rows: 1, light: [Float32Array.of(0, 0.21586, 1), light(0), light(1)] },
    } as unknown as ScoredPrint);
    expect([picture[0], picture[4], picture[8]]).toEqual([0, 128, 255]);
    expect([picture[1], picture[2], picture[3]]).toEqual([0, 255, 255]);
  });
  it('lay covered and void over it half-way, and leave bare cells as they are', () => {
    const plain = new Uint8ClampedArray(12).fill(100);
    const found = foundPicture(plain, { mask: { cells: Uint8Array.of(0, 1, 2) } } as unknown as Imprint);
    expect([...found.slice(0, 3)]).toEqual([100, 100, 100]);
    for (const state of [1, 2]) {
      const colour = stateColour(state) as number[];
      for (let c = 0; c < 3; c++) expect(found[4 * state + c]).toBeCloseTo((100 + colour[c]) / 2, -0.3);
    }
    expect(stateColour(0)).toBeNull();
    expect([...plain]).toEqual(new Array(12).fill(100));
  });
});
