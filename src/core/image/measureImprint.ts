import { checkCorners } from './checkCorners';
import { clearFlecks, describeImprint, LEAST_VOID_MM2, partOf } from './describeImprint';
import { brighterThan, clippedSharply, fillIn, GLARE_STEP, glareWithHalo, shareOnPart } from './glare';
import { edgeDistance, edgeWidth } from './softEdges';
import { straighten } from './straighten';
import { coloursOf, placeOf, type ToneMap, toneMap } from './tone';
import { type Cells, refineTones, type TwoTones, toneScorer, tonesOf, twoTones } from './twoTones';
import {
  type Imprint,
  ImprintError,
  type ImprintMask,
  type ImprintOptions,
  type Photo,
  type ScoredPrint,
  type Straight,
  type UnsureReason,
} from './types';

/** Every fourth cell is enough to find the tones. */
const FIND_STEP = 4;
/** Cells at the edge that a corner picked a little outside would fill with what is around. */
const RIM = 3;
/** No lamp's mirror image larger than this share is filled in. */
const MOST_FILLED = 0.12;
const LEAST_CLIPPED = 0.01;
const MOST_CLIPPED = 0.95;
/** share of its rim at which the light falls at once: a lamp's mirror image has none */
const SHARP_RIM = 0.05;
const LEAST_LIGHT = 0.01;
/** Two tones nearer than this cannot be told from one with texture. */
const LEAST_SEPARATION = 3.2;
/** What is clipped has hardly a scatter: its tone should stand out far. */
const CLIPPED_SEPARATION = 5;
/** A tone of so few cells should stand out further, or it is a fleck. */
const FLECK_SHARE = 0.03;
const FLECK_SEPARATION = 6;
/** Edges that are sharper leave the tones as they are, mm. */
const SHARP_MM = 0.6;
const EDGE_ROUNDS = 3;
const LEAST_PURE = 60;
const RANGE_STEP = 0.1;
/** where the cover is unsure; of half the way between the tones, so that a threshold near one of them never steps beyond it */
const UNSURE_STEP = 0.2;
/** What makes a cover no more than a range. */
const UNSURE = { points: 0.03, edge_mm: 1, overexposed: 0.05 };

/**
 * Measures the print that material left on a face.
 *
 * The photograph is straightened by the homography of the four corners, its light evened out while its two tones are
 * found, and each cell is covered or bare by its place between them. The tones are found in lightness and colour together,
 * and again in each alone.
 *
 * Limits: a photograph shows where material is, not how thick; a film as thin as a smear counts where it hides more than half of
 * the metal's tone; light that jumps (a hard shadow) is taken for a tone. The cover is unsure where lightness and colour
 * differ, where edges are soft, and where much is overexposed.
 * @throws PrintError with a sentence where the photograph cannot be measured
 * @example measureImprint(photo, { corners, length_mm: 37, width_mm: 37, mirrored: false, … }).cover // 0.86
 */
export const measureImprint = (photo: Photo, options: ImprintOptions): Imprint => readPrint(scorePrint(photo, options), options);

/** Straightens and finds the tones: the slow half of `measureImprint`, without the threshold. */
export function scorePrint(photo: Photo, { corners, length_mm, width_mm }: ImprintOptions): ScoredPrint {
  checkCorners(corners, photo, { length_mm, width_mm });
  const straight = straighten(photo, corners, length_mm, width_mm);
  checkLight(straight);
  const map = toneMap(straight);
  const clipped = shareOnPart(straight.glare, straight);
  const filled = clipped <= MOST_FILLED ? filledReading(straight, map) : null;
  const asTone =
    clipped > LEAST_CLIPPED && clippedSharply(straight, map.tone[0]) >= SHARP_RIM ? clippedReading(straight, map, clipped) : null;
  // a little that is clipped may be a lamp's image across an edge: as a tone it counts beside what is filled in, not before it
  const first = filled && filled.hidden <= MOST_FILLED ? filled : (asTone ?? filled);
  if (!first) throw clipped > UNSURE.overexposed ? glareError(clipped) : filled ? glareError(filled.hidden) : oneTone();
  if (first.hidden > MOST_FILLED) throw glareError(first.hidden);
  const others = [filled, asTone].filter((r) => r !== null && r !== first).map((r) => (r as Reading).score);
  others.push(...partReadings(straight, map, first));
  return {
    ...{ straight, score: first.score, separation: first.tones.separation, edge_mm: first.edge_mm },
    others: others.map((score) => alike(score, first.score)),
    glare: Math.max(clipped, first.hidden),
  };
}

/** One way of telling the tones. */
interface Reading {
  tones: TwoTones;
  score: Float32Array;
  edge_mm: number;
  hidden_cells: Uint8Array;
  /** share of the part that was filled in */
  hidden: number;
}

/** Reads with glare left out and filled in from beside it; null where there is but one tone. */
function filledReading(straight: Straight, map: ToneMap): Reading | null {
  // glare is first what is clipped, then also what is brighter than either tone
  const first = withoutLamp(straight, map, twoTones(sample(straight, map, glareWithHalo(straight.glare, straight)).cells));
  if (!first) return null;
  const hidden = glareWithHalo(brighterThan(first, map.tone, straight), straight);
  const found = refineTones(sample(straight, map, hidden).cells, first);
  return found && standOut(found) ? readingOf(straight, map, hidden, found) : null;
}

/** Where the brighter tone is a bright fleck and the rest has two tones without it, the fleck is a lamp's image and the rest the print. */
function withoutLamp(straight: Straight, map: ToneMap, first: TwoTones | null): TwoTones | null {
  if (!first || Math.min(first.share, 1 - first.share) >= FLECK_SHARE) return first;
  const sign = first.share < 0.5 ? 1 : -1;
  if (!coloursOf(first.step[0], first.step[1], first.step[2]).every((s) => sign * s > GLARE_STEP)) return first;
  const darker: TwoTones = {
    ...first,
    step: new Float64Array(3),
    light: first.light.map((c, k) => shifted(c, sign > 0 ? 0 : first.step[k])) as TwoTones['light'],
  };
  const rest = twoTones(sample(straight, map, glareWithHalo(brighterThan(darker, map.tone, straight), straight)).cells);
  return rest && standOut(rest) && Math.min(rest.share, 1 - rest.share) >= FLECK_SHARE ? rest : first;
}

const shifted = (light: Float64Array, by: number) => light.map((c, k) => (k === 0 ? c + by : c));

/** Reads what is clipped as a part of the brighter tone; null where it does not stand out. */
function clippedReading(straight: Straight, map: ToneMap, clipped: number): Reading | null {
  if (clipped > MOST_CLIPPED) return null;
  const none = new Uint8Array(straight.glare.length);
  const found = twoTones(sample(straight, map, none).cells);
  if (!found || found.separation < CLIPPED_SEPARATION) return null;
  // what is clipped and nothing else is no tone of the part where it is little
  const brighter = found.step[0] > 0 ? found.share : 1 - found.share;
  return clipped < UNSURE.overexposed && brighter < 2 * clipped ? null : readingOf(straight, map, none, found);
}

/** Whether tones are two, and not one with its texture, or with a few flecks. */
const standOut = ({ separation, share }: TwoTones): boolean =>
  separation >= (Math.min(share, 1 - share) < FLECK_SHARE ? FLECK_SEPARATION : LEAST_SEPARATION);

/** Reads by lightness alone and by colour alone, where either tells two tones. */
const partReadings = (straight: Straight, map: ToneMap, { hidden_cells }: Reading): Float32Array[] =>
  [[0], [1, 2]].flatMap((kept) => {
    const part: ToneMap = { ...map, tone: map.tone.map((t, k) => (kept.includes(k) ? t : new Float32Array(t.length))) as ToneMap['tone'] };
    const found = twoTones(sample(straight, part, hidden_cells).cells);
    return found && standOut(found) ? [filledScore(straight, part, hidden_cells, found)] : [];
  });

/**
 * Scores of all cells by two tones. Where edges are soft, the tones are taken from cells away from them, as a tone
 * that half-covered cells have a share in is none.
 */
function readingOf(straight: Straight, map: ToneMap, hidden_cells: Uint8Array, found: TwoTones): Reading {
  const { columns, rows, margin, per_mm } = straight;
  const across = columns - 2 * margin;
  const cells_per_mm = Math.max(per_mm.x, per_mm.y);
  let tones = found;
  let score = filledScore(straight, map, hidden_cells, tones);
  let edge_mm = 0;
  for (let round = 0; ; round++) {
    const onPart = partOf(score, straight);
    const part = Uint8Array.from(onPart, (s) => (s > 0.5 ? 1 : 0));
    clearFlecks(part, across, rows - 2 * margin, LEAST_VOID_MM2 * per_mm.x * per_mm.y);
    const distance = edgeDistance(part, across);
    edge_mm = edgeWidth(onPart, distance, cells_per_mm);
    if (edge_mm <= SHARP_MM || round === EDGE_ROUNDS) break;
    const pure = pureTones(straight, map, hidden_cells, distance, (edge_mm / 2) * cells_per_mm + 1);
    if (!pure) break;
    tones = pure;
    score = filledScore(straight, map, hidden_cells, tones);
  }
  return { tones, score, edge_mm, hidden_cells, hidden: shareOnPart(hidden_cells, straight) };
}

/** Scores of all cells, hidden ones filled in. */
function filledScore(straight: Straight, { tone }: ToneMap, hidden: Uint8Array, tones: TwoTones): Float32Array {
  const score = scoreAll(straight, tone, tones);
  fillIn(score, hidden, straight);
  return score;
}

/** Tones of the cells that lie further than so many cells from any edge; null where too few of either do. */
function pureTones(straight: Straight, map: ToneMap, hidden: Uint8Array, distance: Float32Array, reach: number): TwoTones | null {
  const { columns, margin } = straight;
  const across = columns - 2 * margin;
  const onPart = (i: number) => (Math.floor(i / columns) - margin) * across + (i % columns) - margin;
  const away = (i: number) => hidden[i] || Math.abs(distance[onPart(i)]) <= reach;
  const { cells, at } = sample(straight, map, away);
  const classes = Uint8Array.from(at, (i) => (distance[onPart(i)] > 0 ? 1 : 0));
  const second = classes.reduce((sum, c) => sum + c, 0);
  if (Math.min(second, classes.length - second) < LEAST_PURE) return null;
  return tonesOf(cells, classes, second / classes.length);
}

/** The same score turned round where it says the opposite of another. */
function alike(score: Float32Array, to: Float32Array): Float32Array {
  let same = 0;
  for (let i = 0; i < score.length; i++) if (score[i] > 0.5 === to[i] > 0.5) same++;
  return 2 * same >= score.length ? score : score.map((s) => 1 - s);
}

const oneTone = () =>
  new ImprintError(
    'one_tone',
    'Only one tone is seen on this part: it is all covered or all bare, or material and metal look too much alike in this light. Light it from the side, or enter the coverage by hand.',
  );

const glareError = (share: number) =>
  new ImprintError(
    'glare',
    `Glare or overexposure hides ${Math.round(100 * share)} % of the part: turn it or the light so that no lamp is mirrored in it, or expose shorter.`,
  );

/** Reads a scored print at a threshold: the quick half of `measureImprint`. */
export function readPrint(
  scored: ScoredPrint,
  options: Pick<ImprintOptions, 'threshold' | 'swapped' | 'mirrored' | 'face_goes_on'>,
): Imprint {
  const threshold = options.threshold ?? 0.5;
  const { score, others, glare, separation, edge_mm } = scored;
  const mask = maskOf(scored.straight, score, threshold, options);
  const coverAt = (s: Float32Array, boundary: number) => coverOf(maskOf(scored.straight, s, boundary, options));
  const cover = coverAt(score, threshold);
  const unsure: UnsureReason[] = [];
  if (others.some((s) => Math.abs(coverAt(s, threshold) - cover) > UNSURE.points)) unsure.push('tones_differ');
  if (edge_mm > UNSURE.edge_mm) unsure.push('soft_edges');
  if (shareOnPart(scored.straight.glare, scored.straight) > UNSURE.overexposed || glare > MOST_FILLED) unsure.push('overexposed');
  const step = unsure.length > 0 ? UNSURE_STEP : RANGE_STEP;
  const shape = describeImprint(mask, scored, options);
  const shares = [score, ...others].flatMap((s) => [
    coverAt(s, threshold * (1 - 2 * step)),
    coverAt(s, threshold + (1 - threshold) * 2 * step),
  ]);
  return {
    ...shape,
    cover_range: [Math.min(shape.cover, ...shares), Math.max(shape.cover, ...shares)],
    ...{ unsure, edge_mm, glare, separation, threshold, mask },
  };
}

/** Refuses a picture that is nearly black on the part. */
function checkLight({ columns, rows, margin, light }: Straight): void {
  const part: Float32Array[] = [];
  for (let row = margin; row < rows - margin; row += 4) part.push(light[1].subarray(row * columns + margin, (row + 1) * columns - margin));
  const levels = Float32Array.from(part.flatMap((row) => [...row])).sort();
  if (levels[Math.floor(0.9 * levels.length)] < LEAST_LIGHT)
    throw new ImprintError('dark', 'The picture is nearly black on the part: more light, or a longer exposure.');
}

/** Cells from which tones are found, with where they lie. */
function sample(
  { columns, rows, margin }: Straight,
  { tone, floor }: ToneMap,
  hidden: Uint8Array | ((i: number) => unknown),
): { cells: Cells; at: number[] } {
  const left = typeof hidden === 'function' ? hidden : (i: number) => hidden[i];
  const at: number[] = [];
  for (let row = margin + RIM; row < rows - margin - RIM; row += FIND_STEP) {
    for (let column = margin + RIM; column < columns - margin - RIM; column += FIND_STEP) {
      const i = row * columns + column;
      if (!left(i)) at.push(i);
    }
  }
  return {
    at,
    cells: {
      x: Float32Array.from(at, (i) => placeOf(i % columns, columns, margin)),
      y: Float32Array.from(at, (i) => placeOf(Math.floor(i / columns), rows, margin)),
      tone: tone.map((t) => Float32Array.from(at, (i) => t[i])) as Cells['tone'],
      floor,
    },
  };
}

/** Scores of all cells, turned so that the material is 1: it is the tone that the middle of the part shows more of than its corners. */
function scoreAll({ columns, rows, margin }: Straight, tone: ToneMap['tone'], tones: TwoTones): Float32Array {
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
      score[i] = opacity(scoreOf(x, y, tone[0][i], tone[1][i], tone[2][i]));
      const zone =
        x * x + y * y < 0.2 ? middle : Math.abs(x) > 0.8 && Math.abs(y) > 0.8 && Math.abs(x) < 1 && Math.abs(y) < 1 ? corners : null;
      if (!zone) continue;
      zone.cells++;
      if (score[i] > 0.5) zone.second++;
    }
  }
  return middle.second / middle.cells >= 0.5 * (0.5 + corners.second / corners.cells) ? score : score.map((s) => 1 - s);
}

/**
 * A place between two tones as the share of the second tone's light: at a soft edge half the light is half covered.
 * Light of the two mixes in each colour, and the mixture's tone is looked up along the direction.
 */
function opacityOf({ direction, step }: TwoTones): (score: number) => number {
  const second = coloursOf(step[0], step[1], step[2]).map(Math.exp);
  const whole = direction.reduce((sum, d, c) => sum + d * step[c], 0);
  const STEPS = 64;
  const place = Float64Array.from({ length: STEPS + 1 }, (_, k) => {
    const [r, g, b] = second.map((s) => Math.log(1 + (k / STEPS) * (s - 1)));
    return (direction[0] * ((r + g + b) / 3) + direction[1] * (r - g) + direction[2] * (b - g)) / whole;
  });
  return (score) => {
    // beyond the tones it goes on straight
    if (score <= 0 || score >= 1) return score;
    let k = 0;
    for (let half = STEPS / 2; half >= 1; half /= 2) if (place[k + half] < score) k += half;
    return (k + (score - place[k]) / (place[k + 1] - place[k])) / STEPS;
  };
}

function maskOf(
  straight: Straight,
  score: Float32Array,
  threshold: number,
  { swapped, face_goes_on }: Pick<ImprintOptions, 'swapped' | 'face_goes_on'>,
): ImprintMask {
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
function coverOf({ columns, rows, margin, cells }: ImprintMask): number {
  let covered = 0;
  for (let row = margin; row < rows - margin; row++)
    for (let column = margin; column < columns - margin; column++) covered += cells[row * columns + column];
  return covered / ((rows - 2 * margin) * (columns - 2 * margin));
}
