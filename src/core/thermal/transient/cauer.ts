import type { FosterChain } from './foster';

/**
 * A ladder from the junction to the surroundings: capacity of each node to them, and the resistance on to the next node, the last to them.
 */
export interface CauerLadder {
  /** K/W */
  R: number[];
  /** J/K */
  C: number[];
}

/**
 * The ladder with the same impedance as a Foster chain, seen from the junction.
 *
 * The ladder's state matrix is a Jacobi matrix; the chain gives its eigenvalues 1/τ and the squared first components of its eigenvectors,
 * from which it is rebuilt by plane rotations (Rutishauser–Kahan–Pal–Walker; Gragg & Harwood 1984). Unlike the continued fraction
 * of the impedance this stays accurate for dozens of stages.
 * @throws Error for an empty chain, or a stage that is not positive
 */
export function cauerLadder({ R, tau }: FosterChain): CauerLadder {
  if (R.length === 0) throw new Error('A ladder needs at least one stage.');
  if ([...R, ...tau].some((v) => !(v > 0 && Number.isFinite(v))))
    throw new Error('Every stage needs a positive resistance and time constant.');
  const stages = merged(R, tau);
  const { alpha, beta } = jacobiMatrix(
    stages.map((s) => 1 / s.tau),
    stages.map((s) => s.R / s.tau),
  );
  const C: number[] = [];
  const ladderR: number[] = [];
  let before = 0;
  for (let i = 0; i < alpha.length; i++) {
    // node i: (g_{i−1} + g_i)/C_i = α_i and g_{i−1}²/(C_{i−1} C_i) = β_i
    C.push(i === 0 ? 1 / beta[0] : (before * before) / (C[i - 1] * beta[i]));
    const onward = alpha[i] * C[i] - before;
    ladderR.push(1 / onward);
    before = onward;
  }
  return { R: ladderR, C };
}

/** Stages of the same time constant are one. */
function merged(R: number[], tau: number[]): { R: number; tau: number }[] {
  const stages = new Map<number, number>();
  R.forEach((r, i) => {
    stages.set(tau[i], (stages.get(tau[i]) ?? 0) + r);
  });
  // fast stages first: their large eigenvalues then never swamp what is built already
  return [...stages].map(([t, r]) => ({ tau: t, R: r })).sort((a, b) => a.tau - b.tau);
}

/** Diagonal α and squared off-diagonal β of the Jacobi matrix with given eigenvalues and weights; β₀ is the sum of the weights. */
function jacobiMatrix(eigenvalues: number[], weights: number[]): { alpha: number[]; beta: number[] } {
  const alpha = [...eigenvalues];
  const beta = eigenvalues.map((_, i) => (i === 0 ? weights[0] : 0));
  for (let n = 1; n < eigenvalues.length; n++) {
    let carried = weights[n];
    let [gamma, sigma, t] = [1, 0, 0];
    for (let k = 0; k <= n; k++) {
      const rho = beta[k] + carried;
      const next = gamma * rho;
      const sigmaBefore = sigma;
      gamma = rho <= 0 ? 1 : beta[k] / rho;
      sigma = rho <= 0 ? 0 : carried / rho;
      const tNext = sigma * (alpha[k] - eigenvalues[n]) - gamma * t;
      alpha[k] -= tNext - t;
      t = tNext;
      carried = sigma <= 0 ? sigmaBefore * beta[k] : (t * t) / sigma;
      beta[k] = next;
    }
  }
  return { alpha, beta };
}

/** A point of the cumulative structure: how much resistance and capacity lie between the junction and it. */
export interface StructurePoint {
  r: number;
  c: number;
}

/** Cumulative structure of a ladder, node by node from the junction. */
export function cumulativeStructure({ R, C }: CauerLadder): StructurePoint[] {
  let [r, c] = [0, 0];
  return C.map((capacity, i) => {
    c += capacity;
    const point = { r, c };
    r += R[i];
    return point;
  });
}
