import { type RankingDesign, type WeightedFit, weightedFit } from './weightedFit';

const MOST_STEPS = 200;
/** τ² is told to this part of itself. */
const SAME = 1e-12;
/** How near another τ² is thought to be, as a factor. */
const NEAR = 1.25;

/**
 * τ² by restricted maximum likelihood: where its derivative is 0; 0 where it falls from there. The zero is enclosed and found by false
 * position, the end that stays being weighed half (Illinois), and by halving where that is slow.
 * @param near a τ² that it is likely near, where one is known: it is enclosed there first
 * @returns the fit with the weights of that τ²
 * Source: Viechtbauer (2005), Journal of Educational and Behavioral Statistics 30, 261–293; Dowell & Jarratt (1971), BIT 11, 168–174.
 */
export function remlFit(design: RankingDesign, near: number | null = null): WeightedFit {
  const none = weightedFit(design, 0);
  const atNone = none.score();
  if (atNone <= 0) return none;
  // a first step as large as the variances are, then twice that until the likelihood falls
  let low = 0;
  let atLow = atNone;
  let high = near ? NEAR * near : design.rows.reduce((sum, r) => sum + r.variance, 0) / design.rows.length || 1;
  let atHigh = weightedFit(design, high).score();
  for (let i = 0; atHigh > 0 && i < MOST_STEPS; i++) {
    [low, atLow] = [high, atHigh];
    high *= 2;
    atHigh = weightedFit(design, high).score();
  }
  if (near && low === 0) {
    const below = near / NEAR;
    const at = weightedFit(design, below).score();
    if (at > 0) [low, atLow] = [below, at];
    else [high, atHigh] = [below, at];
  }
  let side = 0;
  let before = high - low;
  for (let i = 0; high - low > SAME * high && i < MOST_STEPS; i++) {
    const halved = low > 0 && high > 4 * low ? Math.sqrt(low * high) : (low + high) / 2;
    const between = low + ((high - low) * atLow) / (atLow - atHigh);
    // where three steps did not halve it, the next one does, so that an end cannot stay for good
    const isSlow = i % 3 === 2 && high - low > before / 2;
    if (i % 3 === 2) before = high - low;
    const middle = isSlow || !(between > low && between < high) ? halved : between;
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
