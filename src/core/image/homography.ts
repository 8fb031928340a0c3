import type { Corners, Point } from './types';

/** Nine numbers, row by row: (u, v, w) = H·(x, y, 1), the point being (u/w, v/w). */
type Homography = Float64Array;

/**
 * Homography that takes the unit square to four corners of a photograph.
 * Solved in closed form (Heckbert 1989, Fundamentals of Texture Mapping, §2.2.3).
 * @param corners images of (0,0), (1,0), (1,1) and (0,1)
 */
export function squareToQuad([a, b, c, d]: Corners): Homography {
  const sx = a.x - b.x + c.x - d.x;
  const sy = a.y - b.y + c.y - d.y;
  const dx1 = b.x - c.x;
  const dx2 = d.x - c.x;
  const dy1 = b.y - c.y;
  const dy2 = d.y - c.y;
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  return Float64Array.of(b.x - a.x + g * b.x, d.x - a.x + h * d.x, a.x, b.y - a.y + g * b.y, d.y - a.y + h * d.y, a.y, g, h, 1);
}

export function project(h: Homography, x: number, y: number): Point {
  const w = h[6] * x + h[7] * y + h[8];
  return { x: (h[0] * x + h[1] * y + h[2]) / w, y: (h[3] * x + h[4] * y + h[5]) / w };
}

/** The way back, by the adjugate; a homography is the same under any factor. */
export const invert = (h: Homography): Homography =>
  Float64Array.of(
    h[4] * h[8] - h[5] * h[7],
    h[2] * h[7] - h[1] * h[8],
    h[1] * h[5] - h[2] * h[4],
    h[5] * h[6] - h[3] * h[8],
    h[0] * h[8] - h[2] * h[6],
    h[2] * h[3] - h[0] * h[5],
    h[3] * h[7] - h[4] * h[6],
    h[1] * h[6] - h[0] * h[7],
    h[0] * h[4] - h[1] * h[3],
  );
