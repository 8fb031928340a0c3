import { incompleteGamma } from '#core/stats/distributions/gamma';
import { normalQuantile } from '#core/stats/distributions/normal';
import { tQuantile } from '#core/stats/distributions/t';
import { connectedTo } from './connected';
import { remlFit } from './remlTau';
import type { RankedDifference, RankingRow } from './types';
import { contrast, type RankingDesign, rankingDesign, type WeightedFit, weightedFit } from './weightedFit';

const SHARE = 0.95;

/** Materials ranked over set-ups: one fitted object, viewed by `difference`, `againstReference`, `allPairs` and others. */
export interface Ranking {
  design: RankingDesign;
  fit: WeightedFit;
  reference: string;
  /** materials that no chain of set-ups connects to the reference */
  apart: string[];
  parameters: number;
  df: number;
  /** how much a material's lead differs from set-up to set-up, mm²·K/W; null without degrees of freedom */
  tau: number | null;
  /** weighted residual sum of squares at τ = 0, and its p by chi-square */
  Q: number;
  Q_p: number | null;
  /** factor on the covariances, 1 or more */
  knapp_hartung: number;
}

/**
 * Fits mean = set-up + material + u + e over all set-ups that are connected to the reference, u ~ N(0, τ²) for every row.
 * @param rows one a set-up and material
 * @param near τ² of nearly the same rows, which is then found sooner
 * @throws Error where no row is of the reference
 * Source: method §8; Knapp & Hartung (2003), Statistics in Medicine 22, 2693–2710.
 */
export function rankMaterials(rows: RankingRow[], reference: string, near: number | null = null): Ranking {
  if (!rows.some((r) => r.material === reference)) throw new Error(`No set-up has the reference ${reference}.`);
  const connected = connectedTo(rows, reference);
  const design = rankingDesign(connected, reference);
  const { parameters } = design;
  const df = connected.length - parameters;
  const plain = weightedFit(design, 0);
  const fit = df > 0 ? remlFit(design, near) : plain;
  return {
    ...{ design, fit, reference, parameters, df },
    apart: [...new Set(rows.map((r) => r.material))].filter((m) => !design.materials.includes(m)),
    tau: df > 0 ? Math.sqrt(fit.tau2) : null,
    Q: plain.q,
    Q_p: df > 0 ? 1 - incompleteGamma(df / 2, plain.q / 2) : null,
    knapp_hartung: df > 0 ? Math.max(1, fit.q / df) : 1,
  };
}

/** How far one material lies above another over all set-ups, with its intervals. */
export function difference({ design, fit, df, tau, knapp_hartung }: Ranking, a: string, b: string): RankedDifference {
  const { value, variance } = contrast(fit, a, b);
  const se = Math.sqrt(knapp_hartung * variance);
  const reach = df > 0 ? tQuantile((1 + SHARE) / 2, df) : normalQuantile((1 + SHARE) / 2);
  const around = (half: number): [number, number] => [value - half, value + half];
  return {
    ...{ a, b, difference: value, se, ci95: around(reach * se) },
    prediction95: tau === null ? null : around(reach * Math.sqrt(se ** 2 + 2 * tau ** 2)),
    shared_setups: sharedSetups(design, a, b),
  };
}

const sharedSetups = ({ setupsOf }: RankingDesign, a: string, b: string): number => {
  const other = setupsOf.get(b);
  return [...(setupsOf.get(a) ?? [])].filter((s) => other?.has(s)).length;
};

/** Every other material against the reference, in the order of their first appearance. */
export const againstReference = (ranking: Ranking): RankedDifference[] =>
  ranking.design.materials.flatMap((m) => (m === ranking.reference ? [] : [difference(ranking, m, ranking.reference)]));

/** Every pair once, in the order of first appearance. */
export const allPairs = (ranking: Ranking): RankedDifference[] => {
  const { materials } = ranking.design;
  return materials.flatMap((a, i) => materials.slice(i + 1).map((b) => difference(ranking, a, b)));
};
