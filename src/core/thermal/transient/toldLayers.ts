import type { CauerLadder } from './cauer';
import { fosterChain } from './fosterFromLadder';
import { type LadderFit, layersOf } from './ladderFit';
import type { StepLayer, ThermalStructure } from './types';

/** Time constants below so many samples are not followed. */
const FOLLOWED = 3;
/** Share of the whole that may still be on its way at the end of the log; beyond, the whole and its last layer are not told. */
const UNDERWAY = 0.05;
/** A whole with a larger error than this share of it is not told either. */
const KNOWN = 0.05;
/** Ladders with a larger chi-square per degree of freedom do not fit. */
export const MISFIT = 2;

/** What comes faster than a log can follow: how many time constants, what share of the whole, and how far from the sensor it reaches. */
export function darkPart(ladder: CauerLadder, interval_s: number): { nodes: number; share: number; k_per_w: number; whole: number } {
  const { R, tau } = fosterChain(ladder);
  const whole = sum(R);
  const fast = R.filter((_, j) => tau[j] < FOLLOWED * interval_s);
  return { nodes: fast.length, share: sum(fast) / whole, k_per_w: sum(fast), whole };
}

/** Layers and whole of one of the fitted ladders, as far as the log reaches. */
export function toldLayers(
  fit: LadderFit,
  duration_s: number,
  dark: number,
  which = 0,
): { layers: StepLayer[]; total: ThermalStructure['total'] } {
  const layers = layersOf(fit, which, dark);
  const last = layers[layers.length - 1];
  const { R, tau } = fosterChain(fit.ladders[which]);
  const underway = sum(R.map((r, j) => r * Math.exp(-duration_s / tau[j])));
  const whole = last.until.value;
  if (underway <= UNDERWAY * whole && last.until.se <= KNOWN * whole) return { layers, total: last.until };
  const least = Math.max(0, last.r.value - underway - 1.96 * last.r.se);
  return { layers: [...layers.slice(0, -1), { ...last, least }], total: null };
}

const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);
