import { addErrors } from '#core/compare/sharedError';
import { tQuantile } from '#core/stats/distributions/t';
import { sumOfSquares } from '#core/stats/moments';
import { rpmAtLevel } from '#core/thermal/noise/levelFit';
import { riseAt } from './coolerFit';
import { atLevel, levelRange, type Sweep } from './sweep';

/** Where the curves of two coolers cross. */
export interface Crossing {
  level: number;
  /** levels at which the two cannot be told apart around the crossing; null where there is none to tell */
  ci: [number, number] | null;
  /** why there is none: a cooler has one mount, no reading scatters, or the levels run on to what was not measured */
  untold: 'one_mount' | 'no_scatter' | 'endless' | null;
  /** the cooler that is better below */
  quieter: string;
  louder: string;
  /** levels both were measured at */
  shared: [number, number];
}

const SCAN = 200;
const HALVINGS = 40;

/**
 * Levels at which one cooler overtakes another within what both were measured at. The interval is what a test of equality at each level
 * does not refuse (Fieller's way): so it may be lopsided, and where it reaches what was not measured there is none.
 */
export function crossings(a: Sweep, b: Sweep, confidence = 0.95): Crossing[] {
  const [p, q] = [levelRange(a), levelRange(b)];
  if (!p || !q) return [];
  const [low, high] = [Math.max(p[0], q[0]), Math.min(p[1], q[1])];
  if (!(low < high)) return [];
  const difference = (level: number) => curveAt(a, level) - curveAt(b, level);
  const at = (i: number) => low + ((high - low) * (i + 0.5)) / (SCAN + 1);
  const found: Crossing[] = [];
  for (let i = 0; i < SCAN; i++) {
    const [d1, d2] = [difference(at(i)), difference(at(i + 1))];
    if (!(d1 * d2 < 0)) continue;
    const level = halved(at(i), at(i + 1), (x) => difference(x) * d1 > 0);
    found.push({
      ...{ level, shared: [low, high] },
      ...equalLevels(a, b, level, [low, high], confidence),
      quieter: d1 < 0 ? a.specimen : b.specimen,
      louder: d1 < 0 ? b.specimen : a.specimen,
    });
  }
  return found;
}

/** Levels around a crossing at which a test does not tell the two apart. */
function equalLevels(
  a: Sweep,
  b: Sweep,
  level: number,
  [low, high]: [number, number],
  confidence: number,
): Pick<Crossing, 'ci' | 'untold'> {
  if (a.mounts.length < 2 || b.mounts.length < 2) return { ci: null, untold: 'one_mount' };
  if (!errorAt(a, b, level)) return { ci: null, untold: 'no_scatter' };
  const step = (high - low) / SCAN;
  const end = (direction: 1 | -1): number | null => {
    for (let x = level; x > low && x < high; x += direction * step) {
      if (isEqual(a, b, x, confidence)) continue;
      return halved(x - direction * step, x, (y) => isEqual(a, b, y, confidence));
    }
    return null;
  };
  const [from, to] = [end(-1), end(1)];
  return from === null || to === null ? { ci: null, untold: 'endless' } : { ci: [from, to], untold: null };
}

function isEqual(a: Sweep, b: Sweep, level: number, confidence: number): boolean {
  const error = errorAt(a, b, level);
  const apart = Math.abs(curveAt(a, level) - curveAt(b, level));
  return !error || apart <= tQuantile((1 + confidence) / 2, error.df) * error.se;
}

/** Scatter less than this share of a rise is rounding. */
const ROUNDING = 1e-9;

/** Standard error of the difference at a level, of mounts and of what they share; null without scatter, and beyond what was measured. */
function errorAt(a: Sweep, b: Sweep, level: number): { se: number; df: number } | null {
  const states = [a, b].map((s) => atLevel(s, level));
  const parts = states.flatMap((state) => {
    if (!state) return [];
    const n = state.mounts.length;
    return [
      { se: Math.sqrt(sumOfSquares(state.mounts) / (n - 1) / n), df: n - 1 },
      { se: state.shared_se, df: state.shared_df },
    ].filter((e) => e.se > ROUNDING * Math.abs(state.rise));
  });
  const { se, df } = addErrors(parts);
  return states.includes(null) || df === null ? null : { se, df };
}

/** The end of what holds, between a place where it does and one where it does not. */
function halved(holds: number, not: number, test: (x: number) => boolean): number {
  let [x, y] = [holds, not];
  for (let k = 0; k < HALVINGS; k++) {
    const middle = (x + y) / 2;
    if (test(middle)) x = middle;
    else y = middle;
  }
  return (x + y) / 2;
}

/** ΔT of a cooler's curve at a level, its errors left aside. */
const curveAt = ({ rise, level: fit }: Sweep, level: number): number => (rise && fit ? riseAt(rise, rpmAtLevel(fit, level)) : Number.NaN);
