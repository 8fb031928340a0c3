import { invertPositive } from '#core/stats/cholesky';
import { holm } from '#core/stats/holm';
import { inRankOrder, pairP, rankedPairs, rankingGroups } from './groups';
import type { Ranking } from './rankMaterials';

/** Among so many candidates every set is tried; of more they are exchanged one by one. */
export const MOST_CANDIDATES = 12;
const LARGEST_SET = 6;

/** A set-up in which more could be measured. */
export interface PossibleSetup {
  name: string;
  /** standard deviation between mounts there, mm²·K/W */
  mount_sd: number;
}

/** What there is to spend, and on what. */
export interface NextStudyQuestion {
  ranking: Ranking;
  /** materials that may be measured */
  candidates: string[];
  /** pairs whose intervals should become narrower */
  pairs: [a: string, b: string][];
  /** known ones and new ones */
  setups: PossibleSetup[];
  /** of each material */
  mounts: number;
  hours: number;
  hours_per_mount: number;
}

/** A study that could be measured next, and what it gains. */
export interface NextStudy {
  setup: string;
  materials: string[];
  hours: number;
  /** mean variance of the wanted pairs before and after it, (mm²·K/W)² */
  before: number;
  after: number;
  /** pair whose interval becomes narrower most, and to what share of what it is */
  most: { a: string; b: string; share: number };
}

/** Up to so many materials every pair is judged; of more, each with the leader. */
const MOST_PAIRED = 40;

/** Pairs that are not told apart in the leading group: what a ranking leaves open. Of many materials those with the leader alone. */
export function openPairs(ranking: Ranking, confidence = 0.95): [a: string, b: string][] {
  if (ranking.design.materials.length > MOST_PAIRED) {
    const [leader, ...others] = inRankOrder(ranking);
    const ps = others.map((m) => pairP(ranking, m, leader));
    const adjusted = holm(ps);
    return others.flatMap((m, i): [string, string][] => ((adjusted[i] as number) >= 1 - confidence ? [[leader, m]] : []));
  }
  const letters = rankingGroups(ranking, confidence);
  const leads = (m: string) => letters.get(m)?.includes('a') ?? false;
  return rankedPairs(ranking).flatMap(({ a, b, p_adjusted }): [string, string][] =>
    p_adjusted >= 1 - confidence && leads(a) && leads(b) ? [[a, b]] : [],
  );
}

/** What is known of effects, as a matrix of their precisions. */
interface Knowledge {
  /** materials that are ranked, the reference's effect being 0 */
  known: string[];
  precision: Float64Array[];
}

/** Precisions of the effects of some ranked materials and, last, of a set-up: of a new one nothing is known. */
function knowledgeOf({ design, fit, reference }: Ranking, materials: string[], setup: string): Knowledge | null {
  const known = materials.filter((m) => m !== reference && design.materials.includes(m));
  const isNew = !design.setups.includes(setup);
  const precision = invertPositive(fit.covariances(known, isNew ? null : setup));
  if (!precision) return null;
  return {
    known,
    precision: isNew ? [...precision.map((row) => Float64Array.of(...row, 0)), new Float64Array(known.length + 1)] : precision,
  };
}

/** Variances of pairs with a planned study: measured again, a mean becomes surer; in a new set-up all is new. Null where it connects nothing. */
function variancesWith(
  { design, fit, reference }: Ranking,
  { known, precision }: Knowledge,
  pairs: NextStudyQuestion['pairs'],
  set: string[],
  { name, mount_sd }: PossibleSetup,
  mounts: number,
): number[] | null {
  const names = [...known, ...set.filter((m) => m !== reference && !known.includes(m))];
  const size = names.length + 1;
  const place = new Map(names.map((m, i) => [m, i]));
  const setupAt = known.length;
  // what nothing is known of stands behind the set-up
  const at = (material: string) => {
    const i = place.get(material);
    return i === undefined ? -1 : i < setupAt ? i : i + 1;
  };
  const matrix = Array.from({ length: size }, (_, i) => {
    const row = new Float64Array(size);
    if (i < precision.length) row.set(precision[i]);
    return row;
  });
  const own = mount_sd ** 2 / mounts;
  for (const material of set) {
    const before = design.rows.find((r) => r.setup === name && r.material === material)?.variance;
    const weight = before === undefined ? 1 / (own + fit.tau2) : 1 / (1 / (1 / before + 1 / own) + fit.tau2) - 1 / (before + fit.tau2);
    const m = at(material);
    matrix[setupAt][setupAt] += weight;
    if (m < 0) continue;
    matrix[m][m] += weight;
    matrix[m][setupAt] += weight;
    matrix[setupAt][m] += weight;
  }
  const inverse = invertPositive(matrix);
  if (!inverse) return null;
  const covariance = (a: number, b: number) => (a < 0 || b < 0 ? 0 : inverse[a][b]);
  return pairs.map(([a, b]) => covariance(at(a), at(a)) + covariance(at(b), at(b)) - 2 * covariance(at(a), at(b)));
}

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/**
 * The studies that make the wanted pairs surer most, the best first: every set of 2 to 6 candidates in every set-up that fits into the hours;
 * with more than twelve candidates they are exchanged one by one from the best pair on, which may miss the best.
 * @param most how many are told
 * @returns none where the pairs cannot be told before, or nothing fits
 * Source: method §8.
 */
export function nextStudies(question: NextStudyQuestion, most = 3): NextStudy[] {
  const { ranking, pairs, setups, mounts, hours, hours_per_mount } = question;
  const { design, fit } = ranking;
  const isRanked = (material: string) => design.materials.includes(material);
  if (pairs.length === 0 || pairs.some(([a, b]) => !isRanked(a) || !isRanked(b))) return [];
  const before = pairs.map(([a, b]) => fit.variance(a, b));
  const largest = Math.min(LARGEST_SET, Math.floor(hours / (mounts * hours_per_mount)));
  if (largest < 2) return [];
  const told = (setup: PossibleSetup, knowledge: Knowledge, set: string[]): NextStudy | null => {
    // a set of which nothing is known yet hangs on the reference
    const materials = set.some(isRanked) ? set : [...set, ranking.reference];
    if (materials.length > largest) return null;
    const after = variancesWith(ranking, knowledge, pairs, materials, setup, mounts);
    if (!after) return null;
    const shares = after.map((v, i) => Math.sqrt(v / before[i]));
    const at = shares.indexOf(Math.min(...shares));
    return {
      ...{ setup: setup.name, materials, hours: materials.length * mounts * hours_per_mount, before: mean(before), after: mean(after) },
      most: { a: pairs[at][0], b: pairs[at][1], share: shares[at] },
    };
  };
  const all = setups.flatMap((setup) => {
    const knowledge = knowledgeOf(ranking, [...new Set([...question.candidates, ...pairs.flat()])], setup.name);
    if (!knowledge) return [];
    const sets = question.candidates.length <= MOST_CANDIDATES ? subsets(question.candidates, largest) : null;
    return sets
      ? sets.flatMap((set) => told(setup, knowledge, set) ?? [])
      : exchanged(question.candidates, largest, (set) => told(setup, knowledge, set));
  });
  // of two that gain the same the one that costs less
  return all.sort((a, b) => a.after - b.after || a.hours - b.hours).slice(0, most);
}

/** Every set of 2 to so many of some materials. */
function subsets(materials: string[], largest: number): string[][] {
  let sets: string[][] = [[]];
  for (const m of materials) sets = [...sets, ...sets.flatMap((s) => (s.length < largest ? [[...s, m]] : []))];
  return sets.filter((s) => s.length >= 2);
}

/** The best pair, then the best one added, exchanged while that gains anything. */
function exchanged(materials: string[], largest: number, told: (set: string[]) => NextStudy | null): NextStudy[] {
  const best = (sets: string[][]): NextStudy | null =>
    sets.reduce<NextStudy | null>((least, set) => {
      const study = told(set);
      return study && (!least || study.after < least.after) ? study : least;
    }, null);
  let now = best(materials.flatMap((a, i) => materials.slice(i + 1).map((b) => [a, b])));
  const steps: NextStudy[] = [];
  while (now) {
    steps.push(now);
    const set: string[] = now.materials;
    const others = materials.filter((m) => !set.includes(m));
    const swapped = best(set.flatMap((_, i) => others.map((m) => [...set.slice(0, i), m, ...set.slice(i + 1)])));
    const grown = set.length < largest ? best(others.map((m) => [...set, m])) : null;
    const next: NextStudy | null = grown ?? swapped;
    now = next && next.after < now.after * (1 - 1e-9) ? next : null;
  }
  return steps;
}
