import { regions } from './regions';
import { coloursOf, placeOf, type ToneMap } from './tone';
import { lightAt, type TwoTones } from './twoTones';
import type { Straight } from './types';

/** in log light over the brighter tone */
export const GLARE_STEP = 0.3;
/** of a glare's radius */
const HALO = 0.45;
/** cells */
const LEAST_GLARE = 5;
const FILL_ROUNDS = 400;
/** cells over which a tone ends */
const JUMP_CELLS = 5;
const SIDES = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;

/** Share of the part's cells that are marked. */
export function shareOnPart(marked: Uint8Array, { columns, rows, margin }: Straight): number {
  let sum = 0;
  for (let row = margin; row < rows - margin; row++)
    for (let column = margin; column < columns - margin; column++) sum += marked[row * columns + column];
  return sum / ((rows - 2 * margin) * (columns - 2 * margin));
}

/** Cells that are clipped or a good deal brighter than the brighter tone: a lamp's mirror image. */
export function brighterThan(
  tones: TwoTones,
  [lightness, red, blue]: ToneMap['tone'],
  { columns, rows, margin, glare }: Straight,
): Uint8Array {
  const marked = Uint8Array.from(glare);
  const brighter = coloursOf(tones.step[0], tones.step[1], tones.step[2]).map((s) => Math.max(0, s) + GLARE_STEP);
  for (let row = margin; row < rows - margin; row++) {
    const y = placeOf(row, rows, margin);
    for (let column = margin; column < columns - margin; column++) {
      const x = placeOf(column, columns, margin);
      const i = row * columns + column;
      const [l, r, b] = tones.light.map((c) => lightAt(c, x, y));
      if (coloursOf(lightness[i] - l, red[i] - r, blue[i] - b).every((c, k) => c > brighter[k])) marked[i] = 1;
    }
  }
  return marked;
}

/**
 * Share of the rim of what is clipped at which the light falls at once, as it does from one tone to another; around a
 * lamp's mirror image it falls slowly. 0 where nothing is clipped.
 * @param lightness log light of every cell
 */
export function clippedSharply({ columns, rows, margin, glare }: Straight, lightness: Float32Array): number {
  let rim = 0;
  let sharp = 0;
  const inside = (x: number, y: number) => x >= margin && x < columns - margin && y >= margin && y < rows - margin;
  for (let y = margin; y < rows - margin; y++) {
    for (let x = margin; x < columns - margin; x++) {
      const i = y * columns + x;
      if (!glare[i]) continue;
      for (const [dx, dy] of SIDES) {
        if (!inside(x + JUMP_CELLS * dx, y + JUMP_CELLS * dy) || glare[i + dy * columns + dx]) continue;
        rim++;
        if (lightness[i] - lightness[i + JUMP_CELLS * (dy * columns + dx)] > GLARE_STEP) sharp++;
      }
    }
  }
  return rim === 0 ? 0 : sharp / rim;
}

/** Glare with the halo around it, where its light still changes the tone: the wider the glare, the wider the halo. */
export function glareWithHalo(marked: Uint8Array, { columns, rows }: Straight): Uint8Array {
  const hidden = new Uint8Array(marked.length);
  for (const { cells } of regions(marked, columns, rows, 1, true)) {
    if (cells.length < LEAST_GLARE) continue;
    const reach = Math.ceil(HALO * Math.sqrt(cells.length / Math.PI)) + 2;
    for (const i of cells) {
      const [x, y] = [i % columns, Math.floor(i / columns)];
      // only the rim has to be drawn out
      const inner =
        x > 0 && x < columns - 1 && y > 0 && y < rows - 1 && marked[i - 1] && marked[i + 1] && marked[i - columns] && marked[i + columns];
      hidden[i] = 1;
      if (inner) continue;
      for (let dy = -reach; dy <= reach; dy++) {
        const wide = Math.floor(Math.sqrt(reach * reach - dy * dy));
        if (y + dy < 0 || y + dy >= rows) continue;
        hidden.fill(1, (y + dy) * columns + Math.max(0, x - wide), (y + dy) * columns + Math.min(columns - 1, x + wide) + 1);
      }
    }
  }
  return hidden;
}

/**
 * Fills hidden cells smoothly from their rim (Laplace's equation, Gauss–Seidel with over-relaxation), so that an edge runs on beneath
 * glare.
 */
export function fillIn(score: Float32Array, hidden: Uint8Array, { columns, rows, margin }: Straight): void {
  const cells: number[] = [];
  // what lies around the part says nothing about what lies on it
  for (let row = margin; row < rows - margin; row++) {
    for (let column = margin; column < columns - margin; column++) if (hidden[row * columns + column]) cells.push(row * columns + column);
  }
  const beside = cells.map((i) => {
    const x = i % columns;
    const y = Math.floor(i / columns);
    return [
      x > margin ? i - 1 : i,
      x < columns - margin - 1 ? i + 1 : i,
      y > margin ? i - columns : i,
      y < rows - margin - 1 ? i + columns : i,
    ];
  });
  const known = (i: number) => Math.max(0, Math.min(1, score[i]));
  for (const i of cells) score[i] = 0.5;
  for (const list of beside) for (const j of list) if (!hidden[j]) score[j] = known(j);
  for (let round = 0; round < FILL_ROUNDS; round++) {
    let change = 0;
    for (let k = 0; k < cells.length; k++) {
      const [l, r, u, d] = beside[k];
      const step = 1.8 * ((score[l] + score[r] + score[u] + score[d]) / 4 - score[cells[k]]);
      score[cells[k]] += step;
      change = Math.max(change, Math.abs(step));
    }
    if (change < 1e-3) return;
  }
}
