import { type RankingDesign, type WeightedFit, weightedFit } from './weightedFit';

const MOST_STEPS = 200;
/** τ² is told to this part of itself. */
const SAME = 1e-12;

/**
 * τ² by restricted maximum likelihood: where its derivative is 0; 0 where it falls from there. The zero is enclosed and found by false
 * position, the end that stays being weighed half (Illinois), and by halving where that is slow.
 * @returns the fit with the weights of that τ²
 * Source: Viechtbauer (2005), Journal of Educational and Behavioral Statistics 30, 261–293; Dowell & Jarratt (1971), BIT 11, 168–174.
 */
export function remlFit(design: RankingDesign): WeightedFit {
  const none = weightedFit(design, 0);
  const atNone = none.score();
  if (atNone <= 0) return none;
  // a first step as large as the variances are, then twice that until the likelihood falls
  let low = 0;
  let atLow = atNone;
  let high = design.rows.reduce((sum, r) => sum + r.variance, 0) / design.rows.length || 1;
  let atHigh = weightedFit(design, high).score();
  for (let i = 0; atHigh > 0 && i < MOST_STEPS; i++) {
    [low, atLow] = [high, atHigh];
    high *= 2;
    atHigh = weightedFit(design, high).score();
  }
  let side = 0;
  for (let i = 0; high - low > SAME * high && i < MOST_STEPS; i++) {
    const halved = low > 0 && high > 4 * low ? Math.sqrt(low * high) : (low + high) / 2;
    const between = low + ((high - low) * atLow) / (atLow - atHigh);
    // every third step halves, so that an end cannot stay for good
    const middle = i % 3 === 2 || !(between > low && between < high) ? halved : between;
    if (middle === low || middle === high) break;
    const at = weightedFit(design, middle).score();
    if (at === 0) return weightedFit(design, middle);
    if (at > 0) {
      [low, atLow] = [middle, at];
      if (side === 1) atHigh /= 2;
      side = 1;
    } else {
      [high, atHigh] = [middle, at];
      if (side === -1) atLow /= 2;
      side = -1;
    }
  }
  return weightedFit(design, (low + high) / 2);
}
