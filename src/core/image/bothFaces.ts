import { partOf, shapeOf } from './describeImprint';
import type { ImprintMask, PrintShape } from './types';

/** A measured face: its covered cells, and whether it was turned over to be photographed. */
interface MeasuredFace {
  mask: ImprintMask;
  mirrored: boolean;
}

interface BothFaces extends PrintShape {
  /** share of the part on which both faces show the same: material that parts unevenly stays on one of them */
  agreement: number;
}

/**
 * The print of both faces laid upon each other: what is covered on either was covered while they were together.
 * @param per_mm cells per mm, along and across
 * @returns null where the faces were measured with other sides
 */
export function bothFaces(a: MeasuredFace, b: MeasuredFace, per_mm: { x: number; y: number }): BothFaces | null {
  if (a.mask.columns !== b.mask.columns || a.mask.rows !== b.mask.rows) return null;
  const across = a.mask.columns - 2 * a.mask.margin;
  const [one, other] = [a, b].map(({ mask, mirrored }) =>
    mirrored ? turnedOver(partOf(mask.cells, mask), across) : partOf(mask.cells, mask),
  );
  let same = 0;
  const either = one.map((v, i) => {
    if ((v === 1) === (other[i] === 1)) same++;
    return v === 1 || other[i] === 1 ? 1 : 0;
  });
  return { ...shapeOf(either, across, per_mm, false), agreement: same / either.length };
}

const turnedOver = (part: Uint8Array, across: number): Uint8Array =>
  part.map((_, i) => part[Math.floor(i / across) * across + across - 1 - (i % across)]);
