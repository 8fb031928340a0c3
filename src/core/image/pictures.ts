import type { Imprint, ScoredPrint } from './types';

/** Colours of covered and void, which stand out from metal and from any paste. */
const COVERED = [14, 150, 150];
const VOID = [232, 70, 20];
export const TINT = 0.5;

/** Colour of a cell's state, 8-bit sRGB; null where it is bare. */
export const stateColour = (state: number): number[] | null => (state === 1 ? COVERED : state === 2 ? VOID : null);

/** The part with its margin seen straight from above; 8-bit sRGB with alpha, row by row. */
export function straightPicture({ straight: { columns, rows, light } }: ScoredPrint): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray(4 * columns * rows);
  for (let i = 0; i < columns * rows; i++) {
    for (let c = 0; c < 3; c++) {
      const l = light[c][i];
      data[4 * i + c] = 255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055);
    }
    data[4 * i + 3] = 255;
  }
  return data;
}

/** The same with what was found laid over it. */
export function foundPicture(plain: Uint8ClampedArray, { mask }: Imprint): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray(plain);
  for (const [i, state] of mask.cells.entries()) {
    const colour = stateColour(state);
    if (colour) for (let c = 0; c < 3; c++) data[4 * i + c] += TINT * (colour[c] - data[4 * i + c]);
  }
  return data;
}
