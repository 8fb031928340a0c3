import { rankedPairs, rankingGroups } from './groups';
import type { Ranking } from './rankMaterials';
import type { RankingRow } from './types';
import { contrast, rankingDesign, weightedFit } from './weightedFit';

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

/** Pairs that are not told apart in the leading group: what a ranking leaves open. */
export function openPairs(ranking: Ranking, confidence = 0.95): [a: string, b: string][] {
  const letters = rankingGroups(ranking, confidence);
  const leads = (m: string) => letters.get(m)?.includes('a') ?? false;
  return rankedPairs(ranking).flatMap(({ a, b, p_adjusted }): [string, string][] =>
    p_adjusted >= 1 - confidence && leads(a) && leads(b) ? [[a, b]] : [],
  );
}

/** Variances of pairs at the ranking's τ; null where something of them is not connected. */
function pairVariances({ fit, reference }: Ranking, rows: RankingRow[], pairs: NextStudyQuestion['pairs']): number[] | null {
  const design = rankingDesign(rows, reference);
  if (pairs.some(([a, b]) => !design.materials.includes(a) || !design.materials.includes(b))) return null;
  try {
    const weighted = weightedFit(design, fit.tau2);
    return pairs.map(([a, b]) => contrast(weighted, a, b).variance);
  } catch {
    return null;
  }
}

/** The rows with those of a planned study: measured again, a mean becomes surer; in a new set-up all is new. */
function withStudy(rows: RankingRow[], materials: string[], { name, mount_sd }: PossibleSetup, mounts: number): RankingRow[] {
  const own = mount_sd ** 2 / mounts;
  const again = rows.map((r) =>
    r.setup === name && materials.includes(r.material) ? { ...r, variance: 1 / (1 / r.variance + 1 / own) } : r,
  );
  const fresh = materials.filter((m) => !rows.some((r) => r.setup === name && r.material === m));
  // the mean of what is not measured yet plays no part in how sure it will be
  return [...again, ...fresh.map((material) => ({ setup: name, material, mean: 0, variance: own }))];
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
  const before = pairs.length === 0 ? null : pairVariances(ranking, ranking.design.rows, pairs);
  if (!before) return [];
  const largest = Math.min(LARGEST_SET, Math.floor(hours / (mounts * hours_per_mount)));
  if (largest < 2) return [];
  const told = (setup: PossibleSetup, set: string[]): NextStudy | null => {
    const known = ranking.design.materials;
    // a set of which nothing is known yet hangs on the reference
    const materials = set.some((m) => known.includes(m)) ? set : [...set, ranking.reference];
    if (materials.length > largest) return null;
    const after = pairVariances(ranking, withStudy(ranking.design.rows, materials, setup, mounts), pairs);
    if (!after) return null;
    const shares = after.map((v, i) => Math.sqrt(v / before[i]));
    const at = shares.indexOf(Math.min(...shares));
    return {
      ...{ setup: setup.name, materials, hours: materials.length * mounts * hours_per_mount, before: mean(before), after: mean(after) },
      most: { a: pairs[at][0], b: pairs[at][1], share: shares[at] },
    };
  };
  const all = setups.flatMap((setup) => {
    const sets = question.candidates.length <= MOST_CANDIDATES ? subsets(question.candidates, largest) : null;
    const tried = sets ? sets.flatMap((set) => told(setup, set) ?? []) : exchanged(question.candidates, largest, (set) => told(setup, set));
    return tried;
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
