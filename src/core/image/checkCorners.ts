import { project, squareToQuad } from './homography';
import { type Corners, ImprintError, type Point } from './types';

/** The shortest side that still tells a void of a millimetre, px. */
const LEAST_SIDE = 120;
/** Foreshortening beyond which the far side is too coarse: about 60° from above. */
const MOST_STRETCH = 2;

/**
 * Refuses corners from which a part cannot be straightened.
 * @param size of the photograph, px
 * @param part its sides, mm
 * @throws PrintError with a sentence
 */
export function checkCorners(
  corners: Corners,
  size: { width: number; height: number },
  part: { length_mm: number; width_mm: number },
): void {
  for (const side of [part.length_mm, part.width_mm]) {
    if (!(side >= 1 && side <= 1000)) throw new ImprintError('size', 'The sides of the part should be between 1 and 1000 mm.');
  }
  const turns = corners.map((p, i) => turn(corners[(i + 3) % 4], p, corners[(i + 1) % 4]));
  if (!turns.every((t) => t > 0)) {
    throw new ImprintError(
      'corners_crossed',
      turns.every((t) => t < 0)
        ? 'The corners run the wrong way round: upper left, upper right, lower right, lower left.'
        : 'The corners cross: they should go around the part, upper left, upper right, lower right, lower left.',
    );
  }
  if (corners.some((p) => p.x < 0 || p.y < 0 || p.x > size.width || p.y > size.height))
    throw new ImprintError('corner_outside', 'A corner lies outside the photograph: all four should be seen.');
  const sides = corners.map((p, i) => distance(p, corners[(i + 1) % 4]));
  const least = Math.min(...sides);
  if (least < LEAST_SIDE) {
    throw new ImprintError(
      'part_small',
      `The part is only ${Math.round(least)} pixels along its shortest side; ${LEAST_SIDE} or more are needed. Move closer.`,
    );
  }
  if (stretch(corners, part) > MOST_STRETCH) {
    throw new ImprintError(
      'too_steep',
      'The picture is taken at too steep an angle, or the sides in mm are the wrong way round: hold the camera straight above.',
    );
  }
}

/** How many times longer a mm is in one direction than in another, at the worst place. */
function stretch(corners: Corners, { length_mm, width_mm }: { length_mm: number; width_mm: number }): number {
  const h = squareToQuad(corners);
  let worst = 1;
  for (const x of [0.01, 0.5, 0.99]) {
    for (const y of [0.01, 0.5, 0.99]) {
      const at = project(h, x, y);
      const dx = project(h, x + 0.001, y);
      const dy = project(h, x, y + 0.001);
      // singular values of the map from mm to pixels
      const a = (dx.x - at.x) / length_mm;
      const b = (dy.x - at.x) / width_mm;
      const c = (dx.y - at.y) / length_mm;
      const d = (dy.y - at.y) / width_mm;
      const sum = a * a + b * b + c * c + d * d;
      const root = Math.sqrt(Math.max(0, sum * sum - 4 * (a * d - b * c) ** 2));
      worst = Math.max(worst, Math.sqrt((sum + root) / Math.max(1e-300, sum - root)));
    }
  }
  return worst;
}

/** Greater than 0 where the way a → b → c turns to the right, as pictures are drawn. */
const turn = (a: Point, b: Point, c: Point): number => (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);

const distance = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y);
