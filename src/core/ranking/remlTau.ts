import { type RankingDesign, type WeightedFit, weightedFit } from './weightedFit';

const MOST_STEPS = 200;
/** τ² is told to this part of itself. */
const SAME = 1e-12;

/**
 * τ² by restricted maximum likelihood: where its derivative is 0; 0 where it falls from there.
 * @returns the fit with the weights of that τ²
 * Source: Viechtbauer (2005), Journal of Educational and Behavioral Statistics 30, 261–293.
 */
export function remlFit(design: RankingDesign): WeightedFit {
  const none = weightedFit(design, 0);
  if (none.score <= 0) return none;
  // a first step as large as the variances are, then twice that until the likelihood falls
  let low = 0;
  let high = design.rows.reduce((sum, r) => sum + r.variance, 0) / design.rows.length || 1;
  let end = weightedFit(design, high);
  for (let i = 0; end.score > 0 && i < MOST_STEPS; i++) {
    low = high;
    high *= 2;
    end = weightedFit(design, high);
  }
  // halved on the scale of its size, where the two ends are far apart
  for (let i = 0; high - low > SAME * high && i < MOST_STEPS; i++) {
    const middle = low > 0 && high > 4 * low ? Math.sqrt(low * high) : (low + high) / 2;
    if (weightedFit(design, middle).score > 0) low = middle;
    else high = middle;
  }
  return weightedFit(design, (low + high) / 2);
}
