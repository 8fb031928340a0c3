import { mean } from '#core/stats/moments';
import { seededRandom } from '#core/stats/random';

/** A place in a series where its level changes. */
export interface Step {
  /** position of the first value at the new level */
  at: number;
  before: number;
  after: number;
  /** chance of as sharp a change where the order means nothing */
  p: number;
}

/** Values on each side of a step, at least. */
const LEAST = 3;
const DRAWS = 999;
const LEVEL = 0.01;

/**
 * Steps of level in a series: the stretch whose mean differs most from that of the rest, told where no more than one in a hundred shuffled
 * orders has one as sharp; then each part is searched by itself. Values whose scatter changes, or that drift evenly, can show a step where
 * there is none.
 * @param values in the order of their time
 * @param seed of the shuffles: the same seed finds the same
 * Source: Olshen, Venkatraman, Lucito & Wigler (2004), Biostatistics 5, 557–572 (circular binary segmentation).
 */
export function stepsOf(values: number[], seed = 1): Step[] {
  const random = seededRandom(seed);
  const search = (from: number, to: number): { at: number; p: number }[] => {
    const own = values.slice(from, to);
    const sharpest = sharpestStretch(own);
    if (!sharpest) return [];
    let asSharp = 0;
    const shuffled = [...own];
    for (let d = 0; d < DRAWS; d++) {
      for (let i = shuffled.length - 1; i > 0; i--) {
        const j = Math.floor(random.uniform() * (i + 1));
        [shuffled[i], shuffled[j]] = [shuffled[j], shuffled[i]];
      }
      if ((sharpestStretch(shuffled)?.gain ?? 0) >= sharpest.gain) asSharp++;
    }
    const p = (asSharp + 1) / (DRAWS + 1);
    if (p > LEVEL) return [];
    const ends = [sharpest.from, sharpest.to].filter((at) => at > 0 && at < own.length).map((at) => from + at);
    const parts = [from, ...ends, to];
    return [...ends.map((at) => ({ at, p })), ...parts.slice(1).flatMap((end, i) => search(parts[i], end))];
  };
  const found = search(0, values.length).sort((a, b) => a.at - b.at);
  return found.map((s, i) => ({
    ...s,
    before: mean(values.slice(found[i - 1]?.at ?? 0, s.at)),
    after: mean(values.slice(s.at, found[i + 1]?.at ?? values.length)),
  }));
}

/** The stretch whose mean takes most of the squares around that of all; nothing shorter than the least stands beside it. */
function sharpestStretch(values: number[]): { from: number; to: number; gain: number } | null {
  const n = values.length;
  if (n < 2 * LEAST) return null;
  const centre = mean(values);
  const sums = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) sums[i + 1] = sums[i] + values[i] - centre;
  let best: { from: number; to: number; gain: number } | null = null;
  for (let from = 0; from <= n - LEAST; from++) {
    if (from > 0 && from < LEAST) continue;
    for (let to = from + LEAST; to <= n; to++) {
      const length = to - from;
      if (n - length < LEAST || (to < n && n - to < LEAST)) continue;
      const gain = ((sums[to] - sums[from]) ** 2 * n) / (length * (n - length));
      if (!best || gain > best.gain) best = { from, to, gain };
    }
  }
  return best;
}
