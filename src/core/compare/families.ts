import { dunnettDistribution } from '#core/stats/distributions/dunnett';
import { tQuantile, tTwoSided } from '#core/stats/distributions/t';
import { type BlockFit, blockDifferenceSe, pairedByBlock } from './blockModel';
import type { OneWayFit, SpecimenGroup } from './oneWay';
import { judgePair, type Yardstick } from './pairTest';
import { dunnettT3, gamesHowell, pairsOf, rangeYardstick, tukeyKramer } from './rangeTests';
import { dunnett, dunnettYardstick, welchHolm } from './referenceTests';
import type { MountValue, PairTest } from './types';

/** The pairs that are judged together, under both schools; a test is null where its school cannot tell the pair. */
interface Family {
  pairs: [SpecimenGroup, SpecimenGroup][];
  pooled: (PairTest | null)[];
  separate: (PairTest | null)[];
  /** each its own scatter by limits that keep the error rate; the separate ones where those do already */
  strict: () => (PairTest | null)[];
  /** for a pair whose scatter is not measured here */
  yardstick: Yardstick;
}

interface FamilyOptions {
  family: 'all' | 'reference';
  confidence: number;
}

const NO_FAMILY = (confidence: number): Family => ({
  pairs: [],
  pooled: [],
  separate: [],
  strict: () => [],
  yardstick: rangeYardstick(2, confidence),
});

/** All pairs by Tukey–Kramer and Games–Howell, or those with the reference by Dunnett and Welch–Holm. */
export function oneWayFamily(fit: OneWayFit, reference: string, { family, confidence }: FamilyOptions): Family {
  if (family === 'all') {
    const pooled = tukeyKramer(fit, confidence);
    const pairs = pairsOf(fit.groups);
    return {
      pairs,
      pooled: pooled.length === 0 ? pairs.map(() => null) : pooled,
      separate: gamesHowell(fit, confidence),
      strict: () => dunnettT3(fit, confidence),
      yardstick: rangeYardstick(fit.groups.length, confidence),
    };
  }
  const base = fit.groups.find((g) => g.specimen === reference);
  const others = fit.groups.filter((g) => g !== base);
  if (!base || others.length === 0) return NO_FAMILY(confidence);
  const pairs = others.map((g): [SpecimenGroup, SpecimenGroup] => [g, base]);
  const pooled = dunnett(fit, base, confidence);
  const separate = welchHolm(pairs, confidence);
  return {
    pairs,
    pooled: pooled.length === 0 ? pairs.map(() => null) : pooled,
    separate,
    strict: () => separate,
    yardstick: dunnettYardstick(base, others, confidence),
  };
}

/**
 * The same on marginal means of an additive model. Pooled: Tukey's adjustment (an approximation where blocks are incomplete), or Dunnett's
 * where the contrasts with the reference share one covariance and Bonferroni's where they do not. Separate: the paired differences within
 * blocks, with Bonferroni's adjustment, for each pair has a scatter of its own on few degrees of freedom. Pairs that no chain of blocks
 * links are left out.
 */
export function blockFamily(
  fit: BlockFit,
  rows: (MountValue & { block: string })[],
  reference: string,
  { family, confidence }: FamilyOptions,
): Family {
  const { groups } = fit.one_way;
  const index = new Map(groups.map((g, i) => [g.specimen, i]));
  const at = (g: SpecimenGroup) => index.get(g.specimen) ?? 0;
  const linked = ([a, b]: [SpecimenGroup, SpecimenGroup]) => fit.component[at(a)] === fit.component[at(b)];
  const base = groups.find((g) => g.specimen === reference);
  if (family === 'reference' && !base) return NO_FAMILY(confidence);
  const against = base ? groups.filter((g) => g !== base).map((g): [SpecimenGroup, SpecimenGroup] => [g, base]) : [];
  const pairs = (family === 'all' ? pairsOf(groups) : against).filter(linked);
  if (pairs.length === 0) return NO_FAMILY(confidence);
  const range = rangeYardstick(groups.length, confidence);
  const pooledYardstick =
    family === 'all' || !base
      ? range
      : contrastYardstick(
          fit,
          pairs.map(([g]) => at(g)),
          at(base),
          confidence,
        );
  // one critical value serves all pairs, for they share the residual degrees of freedom
  const critical = fit.df > 0 ? pooledYardstick.critical(fit.df) : 0;
  const separate = pairs.map(([a, b]) => {
    const paired = pairedByBlock(rows, a.specimen, b.specimen);
    const difference = paired && { ...a, offset: b.offset + paired.difference };
    return paired && difference && judgePair(difference, b, paired.se, paired.df, bonferroni(pairs.length, confidence));
  });
  return {
    pairs,
    pooled: pairs.map(([a, b]) => {
      const se = blockDifferenceSe(fit, at(a), at(b));
      return se === null ? null : judgePair(a, b, se, fit.df, { ...pooledYardstick, critical: () => critical });
    }),
    separate,
    strict: () => separate,
    yardstick: pooledYardstick,
  };
}

/** Yardstick of contrasts with a reference: Dunnett's where their covariances are all alike, else Bonferroni's. */
function contrastYardstick(fit: BlockFit, others: number[], base: number, confidence: number): Yardstick {
  const { covariance: c } = fit;
  const covarianceOf = (i: number, j: number) => c[i][j] - c[i][base] - c[base][j] + c[base][base];
  const shared = others.flatMap((i, k) => others.slice(k + 1).map((j) => covarianceOf(i, j)));
  const common = shared.length === 0 ? 0 : shared.reduce((a, b) => a + b, 0) / shared.length;
  if (shared.some((v) => Math.abs(v - common) > 1e-9 * Math.abs(common))) return bonferroni(others.length, confidence);
  // rounded, so that alike contrasts count as alike
  const largest = dunnettDistribution(
    others.map((i) => Number(Math.sqrt(Math.min(0.999999, Math.max(0, common) / covarianceOf(i, i))).toFixed(12))),
  );
  return { critical: (df) => largest.quantile(confidence, df), adjusted: (t, df) => largest.upperTail(t, df) };
}

const bonferroni = (count: number, confidence: number): Yardstick => ({
  critical: (df) => tQuantile(1 - (1 - confidence) / (2 * count), df),
  adjusted: (t, df) => Math.min(1, count * tTwoSided(t, df)),
});
