import { dunnettDistribution } from '#core/stats/distributions/dunnett';
import { tQuantile } from '#core/stats/distributions/t';
import type { OneWayFit, SpecimenGroup } from './oneWay';
import { judgePair, welch, type Yardstick } from './pairTest';
import type { PairTest } from './types';

/** Yardstick of the comparisons with one reference on a common scatter: Dunnett's largest |t|. */
export function dunnettYardstick(reference: SpecimenGroup, others: SpecimenGroup[], confidence: number): Yardstick {
  const lambda = others.map((g) => Math.sqrt(g.n / (reference.n + g.n)));
  const largest = dunnettDistribution(lambda);
  return { critical: (df) => largest.quantile(confidence, df), adjusted: (t, df) => largest.upperTail(t, df) };
}

/**
 * Every other specimen minus the reference on the pooled scatter (Dunnett 1955), single step, two-sided. Empty without residual degrees of
 * freedom.
 */
export function dunnett(fit: OneWayFit, reference: SpecimenGroup, confidence: number): PairTest[] {
  const { sd, df } = fit;
  if (sd === null) return [];
  const others = fit.groups.filter((g) => g !== reference);
  const family = dunnettYardstick(reference, others, confidence);
  const critical = family.critical(df);
  return others.map((g) => judgePair(g, reference, sd * Math.sqrt(1 / g.n + 1 / reference.n), df, { ...family, critical: () => critical }));
}

/**
 * Welch's t per pair, p values stepped by Holm (1979). The interval of each pair is at the level of its own step, so that it excludes zero
 * exactly where the stepped p is significant; the steps below the first pair that is not significant keep its level.
 * @param pairs the family; a pair with a specimen of one mount is null and does not count
 */
export function welchHolm(pairs: [SpecimenGroup, SpecimenGroup][], confidence: number): (PairTest | null)[] {
  const alpha = 1 - confidence;
  const plain: Yardstick = { critical: () => 0, adjusted: () => 1 };
  const tests = pairs.map(([a, b]) => {
    const scatter = welch(a, b);
    return scatter && judgePair(a, b, scatter.se, scatter.df, plain);
  });
  const ranked = tests.filter((t): t is PairTest => t !== null).sort((s, t) => s.p - t.p);
  let steps = ranked.length;
  let highest = 0;
  for (const [rank, test] of ranked.entries()) {
    highest = Math.max(highest, Math.min(1, (ranked.length - rank) * test.p));
    test.p_adjusted = highest;
    if (test.df === null) continue;
    if (highest < alpha) steps = ranked.length - rank;
    else if (rank === 0 || ranked[rank - 1].p_adjusted < alpha) steps = ranked.length - rank;
    const half = tQuantile(1 - alpha / (2 * steps), test.df) * test.se;
    test.ci = [test.difference - half, test.difference + half];
  }
  return tests;
}
