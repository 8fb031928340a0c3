import { checkCorners } from './checkCorners';
import { describePrint } from './describePrint';
import { regions } from './regions';
import { straighten } from './straighten';
import { type Cells, lightAt, refineTones, type TwoTones, toneScorer, twoTones } from './twoTones';
import { type Photo, type Print, PrintError, type PrintMask, type PrintOptions, type ScoredPrint, type Straight } from './types';

/** Log light is taken of a little more than nothing, so that black stays finite. */
const DARK_FLOOR = 0.004;
/** Every fourth cell is enough to find the tones. */
const FIND_STEP = 4;
/** Cells at the edge that a corner picked a little outside would fill with what is around. */
const RIM = 3;
const MOST_GLARE = 0.12;
/** in log light over the brighter tone */
const GLARE_STEP = 0.3;
/** of a glare's radius */
const HALO = 0.45;
/** cells */
const LEAST_GLARE = 5;
const LEAST_LIGHT = 0.01;
/** Two tones nearer than this cannot be told from one with texture. */
const LEAST_SEPARATION = 3.2;
const FILL_ROUNDS = 400;
const RANGE_STEP = 0.1;

/**
 * Measures the print that material left on a face.
 *
 * The photograph is straightened by the homography of the four corners, its light evened out while its two tones are
 * found, and each cell is covered or bare by its place between them.
 *
 * Limits: a photograph shows where material is, not how thick; a film as thin as a smear counts where it hides more than half of
 * the metal's tone; light that jumps (a hard shadow) is taken for a tone.
 * @throws PrintError with a sentence where the photograph cannot be measured
 */
export function measurePrint(photo: Photo, options: PrintOptions): Print {
  return readPrint(scorePrint(photo, options), options);
}

/** Straightens and finds the tones: the slow half of measurePrint, without the threshold. */
export function scorePrint(photo: Photo, { corners, length_mm, width_mm }: PrintOptions): ScoredPrint {
  checkCorners(corners, photo, { length_mm, width_mm });
  const straight = straighten(photo, corners, length_mm, width_mm);
  checkLight(straight);
  const log = straight.light.map((l) => softened(l, straight).map((v) => Math.log(v + DARK_FLOOR))) as Straight['light'];
  // glare is first what is clipped, then also what is brighter than either tone
  let hidden = glareWithHalo(straight.glare, straight);
  let tones = demandTwo(twoTones(sample(straight, log, hidden)));
  hidden = glareWithHalo(brighterThan(tones, log, straight), straight);
  checkGlare(hidden, straight);
  tones = demandTwo(refineTones(sample(straight, log, hidden), tones));
  const score = scoreAll(straight, log, tones);
  fillIn(score, hidden, straight);
  return { straight, score, separation: tones.separation, glare: shareOnPart(hidden, straight) };
}

/** The two tones of a part, or the sentence that there is only one. */
function demandTwo(tones: TwoTones | null): TwoTones {
  if (tones && tones.separation >= LEAST_SEPARATION) return tones;
  throw new PrintError(
    'one_tone',
    'Only one tone is seen on this part: it is all covered or all bare, or material and metal look too much alike in this light. Light it from the side, or tell the cover by hand.',
  );
}

/** Reads a scored print at a threshold: the quick half of measurePrint. */
export function readPrint(scored: ScoredPrint, options: Pick<PrintOptions, 'threshold' | 'swapped' | 'mirrored' | 'face_goes_on'>): Print {
  const threshold = options.threshold ?? 0.5;
  const read = (boundary: number) => maskOf(scored, boundary, options);
  const mask = read(threshold);
  const shares = [threshold - RANGE_STEP, threshold + RANGE_STEP].map((t) => coverOf(read(t)));
  return {
    ...describePrint(mask, scored, options),
    cover_range: [Math.min(...shares), Math.max(...shares)],
    ...{ glare: scored.glare, separation: scored.separation, threshold, mask },
  };
}

/** Refuses a picture that is nearly black on the part, or that is clipped over much of it. */
function checkLight(straight: Straight): void {
  const { columns, rows, margin, light, glare } = straight;
  checkGlare(glare, straight);
  const part: Float32Array[] = [];
  for (let row = margin; row < rows - margin; row += 4) part.push(light[1].subarray(row * columns + margin, (row + 1) * columns - margin));
  const levels = Float32Array.from(part.flatMap((row) => [...row])).sort();
  if (levels[Math.floor(0.9 * levels.length)] < LEAST_LIGHT) {
    throw new PrintError('dark', 'The picture is nearly black on the part: more light, or a longer exposure.');
  }
}

function checkGlare(hidden: Uint8Array, straight: Straight): void {
  const share = shareOnPart(hidden, straight);
  if (share <= MOST_GLARE) return;
  throw new PrintError(
    'glare',
    `Glare or overexposure hides ${Math.round(100 * share)} % of the part: turn it or the light so that no lamp is mirrored in it, or expose shorter.`,
  );
}

function shareOnPart(marked: Uint8Array, { columns, rows, margin }: Straight): number {
  let sum = 0;
  for (let row = margin; row < rows - margin; row++) for (let column = margin; column < columns - margin; column++) sum += marked[row * columns + column];
  return sum / ((rows - 2 * margin) * (columns - 2 * margin));
}

/** Cells that are clipped or a good deal brighter than the brighter tone: a lamp's mirror image. */
function brighterThan(tones: TwoTones, log: Straight['light'], { columns, rows, margin, glare }: Straight): Uint8Array {
  const marked = Uint8Array.from(glare);
  const brighter = tones.step.map((s) => Math.max(0, s));
  for (let row = margin; row < rows - margin; row++) {
    const y = placeOf(row, rows, margin);
    for (let column = margin; column < columns - margin; column++) {
      const x = placeOf(column, columns, margin);
      const i = row * columns + column;
      if (log.every((l, c) => l[i] - lightAt(tones.light[c], x, y) - brighter[c] > GLARE_STEP)) marked[i] = 1;
    }
  }
  return marked;
}

/** Glare with the halo around it, where its light still changes the tone: the wider the glare, the wider the halo. */
function glareWithHalo(marked: Uint8Array, { columns, rows }: Straight): Uint8Array {
  const hidden = new Uint8Array(marked.length);
  for (const { cells } of regions(marked, columns, rows, 1, true)) {
    if (cells.length < LEAST_GLARE) continue;
    const reach = Math.ceil(HALO * Math.sqrt(cells.length / Math.PI)) + 2;
    for (const i of cells) {
      const [x, y] = [i % columns, Math.floor(i / columns)];
      // only the rim has to be drawn out
      const inner = x > 0 && x < columns - 1 && y > 0 && y < rows - 1 && marked[i - 1] && marked[i + 1] && marked[i - columns] && marked[i + columns];
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

/** Mean over 3 × 3 cells, twice: brushed metal and pixel noise go, edges stay within a cell. What lies beyond the part's edge is never mixed in. */
function softened(values: Float32Array, { columns, rows, margin }: Straight): Float32Array {
  let from = values;
  const zone = (i: number, cells: number) => (i < margin ? 0 : i < cells - margin ? 1 : 2);
  const beside = (i: number, cells: number) => [-1, 0, 1].map((d) => i + d).map((j) => (j >= 0 && j < cells && zone(j, cells) === zone(i, cells) ? j : i));
  const across = Array.from({ length: columns }, (_, x) => beside(x, columns));
  for (let pass = 0; pass < 2; pass++) {
    const to = new Float32Array(from.length);
    for (let y = 0; y < rows; y++) {
      const [up, here, down] = beside(y, rows).map((r) => r * columns);
      for (let x = 0; x < columns; x++) {
        const [l, m, r] = across[x];
        to[here + x] =
          (from[up + l] + from[up + m] + from[up + r] + from[here + l] + from[here + m] + from[here + r] + from[down + l] + from[down + m] + from[down + r]) /
          9;
      }
    }
    from = to;
  }
  return from;
}

/** Place of a cell on the part, −1 to 1 from edge to edge. */
function placeOf(index: number, cells: number, margin: number): number {
  return (2 * (index - margin + 0.5)) / (cells - 2 * margin) - 1;
}

function sample({ columns, rows, margin }: Straight, log: Straight['light'], hidden: Uint8Array): Cells {
  const picked: number[] = [];
  for (let row = margin + RIM; row < rows - margin - RIM; row += FIND_STEP) {
    for (let column = margin + RIM; column < columns - margin - RIM; column += FIND_STEP) {
      const i = row * columns + column;
      if (!hidden[i]) picked.push(i);
    }
  }
  return {
    x: Float32Array.from(picked, (i) => placeOf(i % columns, columns, margin)),
    y: Float32Array.from(picked, (i) => placeOf(Math.floor(i / columns), rows, margin)),
    log: log.map((l) => Float32Array.from(picked, (i) => l[i])) as Cells['log'],
  };
}

/** Scores of all cells, turned so that the material is 1: it is the tone that the middle of the part shows more of than its corners. */
function scoreAll({ columns, rows, margin }: Straight, log: Straight['light'], tones: TwoTones): Float32Array {
  const score = new Float32Array(columns * rows);
  const scoreOf = toneScorer(tones);
  const opacity = opacityOf(tones);
  const middle = { cells: 0, second: 0 };
  const corners = { cells: 0, second: 0 };
  for (let row = 0; row < rows; row++) {
    // beyond the part the light is taken as it is at its edge
    const y = Math.max(-1, Math.min(1, placeOf(row, rows, margin)));
    for (let column = 0; column < columns; column++) {
      const i = row * columns + column;
      const x = Math.max(-1, Math.min(1, placeOf(column, columns, margin)));
      score[i] = opacity(scoreOf(x, y, log[0][i], log[1][i], log[2][i]));
      const zone = x * x + y * y < 0.2 ? middle : Math.abs(x) > 0.8 && Math.abs(y) > 0.8 && Math.abs(x) < 1 && Math.abs(y) < 1 ? corners : null;
      if (!zone) continue;
      zone.cells++;
      if (score[i] > 0.5) zone.second++;
    }
  }
  return middle.second / middle.cells >= 0.5 * (0.5 + corners.second / corners.cells) ? score : score.map((s) => 1 - s);
}

/** A place between two tones in log light, as the share of the second tone's light: at a soft edge half the light is half covered. */
function opacityOf({ direction, step }: TwoTones): (score: number) => number {
  const whole = direction.reduce((sum, d, c) => sum + d * step[c], 0);
  const ratio = direction.reduce((sum, d, c) => sum + d * step[c] * step[c], 0) / whole;
  if (Math.abs(ratio) < 1e-3) return (score) => score;
  return (score) => Math.expm1(ratio * Math.max(-3, Math.min(4, score))) / Math.expm1(ratio);
}

/** Fills hidden cells smoothly from their rim (Laplace's equation, Gauss–Seidel with over-relaxation), so that an edge runs on beneath glare. */
function fillIn(score: Float32Array, hidden: Uint8Array, { columns, rows, margin }: Straight): void {
  const cells: number[] = [];
  // what lies around the part says nothing about what lies on it
  for (let row = margin; row < rows - margin; row++) {
    for (let column = margin; column < columns - margin; column++) if (hidden[row * columns + column]) cells.push(row * columns + column);
  }
  const beside = cells.map((i) => {
    const x = i % columns;
    const y = Math.floor(i / columns);
    return [x > margin ? i - 1 : i, x < columns - margin - 1 ? i + 1 : i, y > margin ? i - columns : i, y < rows - margin - 1 ? i + columns : i];
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

function maskOf({ straight, score }: ScoredPrint, threshold: number, { swapped, face_goes_on }: Pick<PrintOptions, 'swapped' | 'face_goes_on'>): PrintMask {
  const { columns, rows, margin, outside } = straight;
  const cells = new Uint8Array(score.length);
  // what else lies around the part has tones of its own
  const rim = face_goes_on ? 0 : margin;
  for (let row = rim; row < rows - rim; row++) {
    for (let column = rim; column < columns - rim; column++) {
      const i = row * columns + column;
      cells[i] = !outside[i] && (swapped ? 1 - score[i] : score[i]) > threshold ? 1 : 0;
    }
  }
  return { columns, rows, margin, cells };
}

/** Share of the part's cells that are covered. */
function coverOf({ columns, rows, margin, cells }: PrintMask): number {
  let covered = 0;
  for (let row = margin; row < rows - margin; row++) for (let column = margin; column < columns - margin; column++) covered += cells[row * columns + column];
  return covered / ((rows - 2 * margin) * (columns - 2 * margin));
}
