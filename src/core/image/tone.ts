import type { Straight } from './types';

/** Log light is taken of a little more than nothing, so that black stays finite. */
const DARK_FLOOR = 0.004;
/** A JPEG's blocks have one colour each, to a rounding of their own, and mostly cover two by two of lightness. */
const COLOUR_BLOCK_PX = 8;
/** scatter that a JPEG's rounding leaves in a whole block, of 255 levels: of lightness, and of colour */
const BLOCK_LEVELS = { lightness: 0.5, colour: 1.5 };
/** sRGB is about a power of light */
const GAMMA = 2.2;

/** Tone of every cell of a straightened photograph. */
export interface ToneMap {
  /** log light, log red over green, log blue over green */
  tone: [Float32Array, Float32Array, Float32Array];
  /** variance of each that the photograph's own blocks make */
  floor: [number, number, number];
}

/**
 * Lightness, softened, and colour, smoothed over the blocks in which a JPEG keeps it.
 * @param straight the part from straight above
 */
export function toneMap(straight: Straight): ToneMap {
  const [red, green, blue] = straight.light.map((l) => softened(l, straight).map((v) => Math.log(v + DARK_FLOOR)));
  const block = Math.round(COLOUR_BLOCK_PX / straight.px_per_cell / 2);
  const lightness = green.map((g, i) => (red[i] + g + blue[i]) / 3);
  const over = (colour: Float32Array) =>
    boxed(
      colour.map((v, i) => v - green[i]),
      straight,
      block,
    );
  // a level of sRGB is so much of log light
  const level = (Math.exp(median(lightness)) ** (1 / GAMMA) * 255) / GAMMA;
  const floor = (levels: number) => (levels / level) ** 2;
  return {
    tone: [lightness, over(red), over(blue)],
    floor: [floor(BLOCK_LEVELS.lightness), floor(BLOCK_LEVELS.colour), floor(BLOCK_LEVELS.colour)],
  };
}

/** Log light of red, green and blue from log light and their ratios to green. */
export function coloursOf(lightness: number, red: number, blue: number): [number, number, number] {
  const green = lightness - (red + blue) / 3;
  return [green + red, green, green + blue];
}

const median = (values: Float32Array): number => Float32Array.from(values).sort()[values.length >> 1];

/** Place of a cell on the part, −1 to 1 from edge to edge. */
export const placeOf = (index: number, cells: number, margin: number): number => (2 * (index - margin + 0.5)) / (cells - 2 * margin) - 1;

/**
 * Mean over 3 × 3 cells, twice: brushed metal and pixel noise go, edges stay within a cell. What lies beyond the part's edge is never mixed
 * in.
 */
function softened(values: Float32Array, { columns, rows, margin }: Straight): Float32Array {
  let from = values;
  const zone = (i: number, cells: number) => (i < margin ? 0 : i < cells - margin ? 1 : 2);
  const beside = (i: number, cells: number) =>
    [-1, 0, 1].map((d) => i + d).map((j) => (j >= 0 && j < cells && zone(j, cells) === zone(i, cells) ? j : i));
  const across = Array.from({ length: columns }, (_, x) => beside(x, columns));
  for (let pass = 0; pass < 2; pass++) {
    const to = new Float32Array(from.length);
    for (let y = 0; y < rows; y++) {
      const [up, here, down] = beside(y, rows).map((r) => r * columns);
      for (let x = 0; x < columns; x++) {
        const [l, m, r] = across[x];
        to[here + x] =
          (from[up + l] +
            from[up + m] +
            from[up + r] +
            from[here + l] +
            from[here + m] +
            from[here + r] +
            from[down + l] +
            from[down + m] +
            from[down + r]) /
          9;
      }
    }
    from = to;
  }
  return from;
}

/** Mean over a square that reaches so many cells to each side; part and margin are never mixed. */
function boxed(values: Float32Array, { columns, rows, margin }: Straight, reach: number): Float32Array {
  if (reach === 0) return values;
  const along = (from: Float32Array, cells: number, lines: number, step: number, stride: number) => {
    const to = new Float32Array(from.length);
    for (let line = 0; line < lines; line++) {
      for (const [first, end] of [
        [0, margin],
        [margin, cells - margin],
        [cells - margin, cells],
      ]) {
        const at = (k: number) => from[line * stride + k * step];
        let sum = 0;
        let n = 0;
        for (let k = first; k < Math.min(end, first + reach); k++, n++) sum += at(k);
        for (let k = first; k < end; k++) {
          if (k + reach < end) {
            sum += at(k + reach);
            n++;
          }
          if (k - reach - 1 >= first) {
            sum -= at(k - reach - 1);
            n--;
          }
          to[line * stride + k * step] = sum / n;
        }
      }
    }
    return to;
  };
  return along(along(values, columns, rows, 1, columns), rows, columns, columns, 1);
}
