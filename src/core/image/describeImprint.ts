import { regions } from './regions';
import type { CornerZone, Imprint, ImprintMask, ImprintOptions, PrintShape, ScoredPrint } from './types';

/** A bare fleck smaller than this is texture, and a covered one a crumb: half a millimetre square. */
export const LEAST_VOID_MM2 = 0.25;
const ZONE = 0.25;
/** A corner with this much less cover than the whole, or fainter in tone, is thin. */
const THIN_COVER = 0.15;
const THIN_TONE = 0.8;
const THICK_TONE = 1.2;

/**
 * What the covered cells of a part tell: cover, voids, centre, corners, rings and what was squeezed out. Voids are marked in the mask;
 * flecks below a quarter of a square millimetre are taken for what surrounds them.
 */
export function describeImprint(
  mask: ImprintMask,
  scored: ScoredPrint,
  { swapped, mirrored, face_goes_on }: Pick<ImprintOptions, 'swapped' | 'mirrored' | 'face_goes_on'>,
): PrintShape & Pick<Imprint, 'corners' | 'squeeze_out'> {
  const { columns, margin } = mask;
  const { per_mm } = scored.straight;
  const across = columns - 2 * margin;
  const part = partOf(mask.cells, mask);
  const down = part.length / across;
  const whole = (i: number) => (Math.floor(i / across) + margin) * columns + (i % across) + margin;
  clearFlecks(part, across, down, LEAST_VOID_MM2 * per_mm.x * per_mm.y);
  const shape = shapeOf(part, across, per_mm, mirrored);
  for (let i = 0; i < part.length; i++) mask.cells[whole(i)] = part[i];
  return {
    ...shape,
    corners: cornerZones(part, across, down, (i) => (swapped ? 1 - scored.score[whole(i)] : scored.score[whole(i)]), shape.cover, mirrored),
    squeeze_out: face_goes_on ? squeezeOut(mask, per_mm, part.length) : null,
  };
}

/** Cells of the part without the margin. */
export function partOf<T extends Uint8Array | Float32Array>(
  cells: T,
  { columns, rows, margin }: Pick<ImprintMask, 'columns' | 'rows' | 'margin'>,
): T {
  const across = columns - 2 * margin;
  const part = cells.slice(0, across * (rows - 2 * margin)) as T;
  for (let row = margin; row < rows - margin; row++)
    part.set(cells.subarray(row * columns + margin, (row + 1) * columns - margin), (row - margin) * across);
  return part;
}

/**
 * Cover, voids, centre and rings of a part's cells.
 * @param part 0 bare, 1 covered; bare cells that are closed in are set to 2
 * @param mirrored true where right in the picture was left on the part
 */
export function shapeOf(part: Uint8Array, across: number, per_mm: { x: number; y: number }, mirrored: boolean): PrintShape {
  const down = part.length / across;
  const cell_mm2 = 1 / (per_mm.x * per_mm.y);
  const x_mm = (i: number) => ((mirrored ? -1 : 1) * ((i % across) + 0.5 - across / 2)) / per_mm.x;
  const y_mm = (i: number) => (down / 2 - Math.floor(i / across) - 0.5) / per_mm.y;
  const list = regions(part, across, down, 0, false)
    .filter((r) => !r.touches_edge)
    .map((r) => {
      for (const i of r.cells) part[i] = 2;
      const centre = (f: (i: number) => number) => r.cells.reduce((sum, i) => sum + f(i), 0) / r.cells.length;
      return { x_mm: centre(x_mm), y_mm: centre(y_mm), area_mm2: r.cells.length * cell_mm2 };
    })
    .sort((a, b) => b.area_mm2 - a.area_mm2);
  let covered = 0;
  let sx = 0;
  let sy = 0;
  const ringCovered = [0, 0, 0];
  const ringCells = [0, 0, 0];
  for (let i = 0; i < part.length; i++) {
    const out = Math.max(Math.abs(2 * (((i % across) + 0.5) / across) - 1), Math.abs(2 * ((Math.floor(i / across) + 0.5) / down) - 1));
    const ring = Math.min(2, Math.floor(3 * out));
    ringCells[ring]++;
    if (part[i] !== 1) continue;
    ringCovered[ring]++;
    covered++;
    sx += x_mm(i);
    sy += y_mm(i);
  }
  const offset = covered === 0 ? { x_mm: 0, y_mm: 0 } : { x_mm: sx / covered, y_mm: sy / covered };
  const voidArea = list.reduce((sum, v) => sum + v.area_mm2, 0);
  return {
    cover: covered / part.length,
    voids: { share: voidArea / (part.length * cell_mm2), count: list.length, largest_mm2: list[0]?.area_mm2 ?? 0, list },
    offset: { ...offset, r_mm: Math.hypot(offset.x_mm, offset.y_mm) },
    rings: ringCells.map((n, k) => (n === 0 ? 0 : ringCovered[k] / n)) as Imprint['rings'],
  };
}

/** Flecks too small to mean anything take the value around them. */
export function clearFlecks(part: Uint8Array, across: number, down: number, least: number): void {
  for (const value of [0, 1]) {
    for (const r of regions(part, across, down, value, value === 1)) {
      if (r.cells.length < least) for (const i of r.cells) part[i] = 1 - value;
    }
  }
}

function cornerZones(
  part: Uint8Array,
  across: number,
  down: number,
  score: (i: number) => number,
  cover: number,
  mirrored: boolean,
): CornerZone[] {
  const zone = (left: boolean, upper: boolean) => {
    const w = Math.round(ZONE * across);
    const h = Math.round(ZONE * down);
    let covered = 0;
    let tone = 0;
    for (let y = upper ? 0 : down - h; y < (upper ? h : down); y++) {
      for (let x = left ? 0 : across - w; x < (left ? w : across); x++) {
        const i = y * across + x;
        if (part[i] !== 1) continue;
        covered++;
        tone += score(i);
      }
    }
    return { cover: covered / (w * h), tone: covered === 0 ? null : tone / covered };
  };
  let sum = 0;
  let n = 0;
  for (let i = 0; i < part.length; i++) {
    if (part[i] !== 1) continue;
    sum += score(i);
    n++;
  }
  const mean = n === 0 ? 1 : sum / n;
  return (
    [
      ['upper left', !mirrored, true],
      ['upper right', mirrored, true],
      ['lower right', mirrored, false],
      ['lower left', !mirrored, false],
    ] as const
  ).map(([place, left, upper]) => {
    const z = zone(left, upper);
    const tone = z.tone === null ? null : z.tone / mean;
    const thin = z.cover < cover - THIN_COVER || (tone !== null && tone < THIN_TONE);
    return { place, cover: z.cover, tone, state: thin ? 'thin' : tone !== null && tone > THICK_TONE ? 'thick' : 'even' };
  });
}

/** Material in the margin that hangs together with the print on the part. */
function squeezeOut(
  { columns, rows, margin, cells }: ImprintMask,
  per_mm: { x: number; y: number },
  partCells: number,
): { share: number; reach_mm: number } {
  const inside = (i: number) => {
    const x = i % columns;
    const y = Math.floor(i / columns);
    return x >= margin && x < columns - margin && y >= margin && y < rows - margin;
  };
  let beyond = 0;
  let reach = 0;
  for (const r of regions(cells, columns, rows, 1, false)) {
    const out = r.cells.filter((i) => !inside(i));
    if (out.length === 0 || out.length === r.cells.length) continue;
    beyond += out.length;
    for (const i of out) {
      const x = i % columns;
      const y = Math.floor(i / columns);
      const dx = Math.max(margin - x, x - (columns - margin - 1), 0) / per_mm.x;
      const dy = Math.max(margin - y, y - (rows - margin - 1), 0) / per_mm.y;
      reach = Math.max(reach, Math.hypot(dx, dy));
    }
  }
  return { share: beyond / partCells, reach_mm: reach };
}
