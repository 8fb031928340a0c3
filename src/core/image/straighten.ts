import { project, squareToQuad } from './homography';
import type { Corners, Photo, Straight } from './types';

/** Cells along the longer side: finer than any void that matters, and quick. */
const CELLS = 320;
const MARGIN = 0.12;
const MOST_SAMPLES = 6;
const CLIPPED = 250;

/** Linear light of each 8-bit level (IEC 61966-2-1, sRGB). */
const LINEAR = Float32Array.from({ length: 256 }, (_, i) => {
  const v = i / 255;
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
});

/**
 * The part seen straight from above: each cell is the mean light of the pixels that it covers.
 * @param corners checked by checkCorners
 * @returns cells of the part and of a margin around it
 */
export function straighten(photo: Photo, corners: Corners, length_mm: number, width_mm: number): Straight {
  const per_mm = CELLS / Math.max(length_mm, width_mm);
  const across = Math.max(16, Math.round(length_mm * per_mm));
  const down = Math.max(16, Math.round(width_mm * per_mm));
  const margin = Math.round(MARGIN * Math.min(across, down));
  const columns = across + 2 * margin;
  const rows = down + 2 * margin;
  const cells = columns * rows;
  const light: Straight['light'] = [new Float32Array(cells), new Float32Array(cells), new Float32Array(cells)];
  const glare = new Uint8Array(cells);
  const outside = new Uint8Array(cells);
  const h = squareToQuad(corners);
  const px_per_cell = pixelsOfCell(corners, across, down);
  // so that no pixel between is skipped
  const n = Math.min(MOST_SAMPLES, Math.max(2, Math.ceil(px_per_cell)));
  const { width, height, data } = photo;
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      let [r, g, b] = [0, 0, 0];
      let seen = 0;
      let clipped = 0;
      for (let s = 0; s < n * n; s++) {
        const u = (column - margin + ((s % n) + 0.5) / n) / across;
        const v = (row - margin + (Math.floor(s / n) + 0.5) / n) / down;
        const w = h[6] * u + h[7] * v + h[8];
        const px = Math.floor((h[0] * u + h[1] * v + h[2]) / w);
        const py = Math.floor((h[3] * u + h[4] * v + h[5]) / w);
        if (w <= 0 || px < 0 || py < 0 || px >= width || py >= height) continue;
        const at = 4 * (py * width + px);
        r += LINEAR[data[at]];
        g += LINEAR[data[at + 1]];
        b += LINEAR[data[at + 2]];
        seen++;
        if (data[at] >= CLIPPED && data[at + 1] >= CLIPPED && data[at + 2] >= CLIPPED) clipped++;
      }
      const cell = row * columns + column;
      if (seen === 0) {
        outside[cell] = 1;
        continue;
      }
      light[0][cell] = r / seen;
      light[1][cell] = g / seen;
      light[2][cell] = b / seen;
      if (clipped > 0.3 * seen) glare[cell] = 1;
    }
  }
  return { columns, rows, margin, per_mm: { x: across / length_mm, y: down / width_mm }, px_per_cell, light, glare, outside };
}

/** Pixels along the side of the cell that has the most of them. */
function pixelsOfCell(corners: Corners, across: number, down: number): number {
  const h = squareToQuad(corners);
  let most = 0.1;
  for (const [x, y] of [
    [0, 0],
    [0.5, 0.5],
    [1 - 1 / across, 1 - 1 / down],
  ]) {
    const at = project(h, x, y);
    const right = project(h, x + 1 / across, y);
    const below = project(h, x, y + 1 / down);
    most = Math.max(most, Math.hypot(right.x - at.x, right.y - at.y), Math.hypot(below.x - at.x, below.y - at.y));
  }
  return most;
}
