import type { CauerLadder } from './cauer';
import type { FosterChain } from './foster';

/**
 * The chain with the same impedance as a ladder, seen from the junction: eigenvalues of its symmetric state matrix are 1/τ, and the squared
 * first components of its eigenvectors, over C₁, are R/τ. Eigen-decomposition by Jacobi's rotations (Golub & Van Loan, Matrix Computations,
 * §8.5), exact to the last digits for the few nodes of a body.
 */
export function fosterChain({ R, C }: CauerLadder): FosterChain {
  const n = C.length;
  const a = C.map((_, i) => C.map((_, j) => stateEntry(R, C, i, j)));
  const first = C.map((_, i) => (i === 0 ? 1 : 0));
  for (let sweep = 0; sweep < 40; sweep++) {
    const squares = (onDiagonal: boolean) =>
      a.reduce((sum, row, i) => sum + row.reduce((s, v, j) => s + ((i === j) === onDiagonal ? v * v : 0), 0), 0);
    if (squares(false) <= 1e-30 * squares(true)) break;
    for (let p = 0; p < n; p++) for (let q = p + 1; q < n; q++) rotate(a, first, p, q);
  }
  const tau = a.map((row, i) => 1 / row[i]);
  return { R: tau.map((x, i) => (first[i] ** 2 * x) / C[0]), tau };
}

/** Entry of C^(−1/2) G C^(−1/2), G the conductances of the ladder. */
function stateEntry(R: number[], C: number[], i: number, j: number): number {
  if (i === j) return ((i > 0 ? 1 / R[i - 1] : 0) + 1 / R[i]) / C[i];
  if (Math.abs(i - j) > 1) return 0;
  return -1 / (R[Math.min(i, j)] * Math.sqrt(C[i] * C[j]));
}

function rotate(a: number[][], first: number[], p: number, q: number): void {
  if (a[p][q] === 0) return;
  const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
  const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.hypot(1, theta));
  const c = 1 / Math.hypot(1, t);
  const s = t * c;
  for (let k = 0; k < a.length; k++) [a[k][p], a[k][q]] = [c * a[k][p] - s * a[k][q], s * a[k][p] + c * a[k][q]];
  for (let k = 0; k < a.length; k++) [a[p][k], a[q][k]] = [c * a[p][k] - s * a[q][k], s * a[p][k] + c * a[q][k]];
  [first[p], first[q]] = [c * first[p] - s * first[q], s * first[p] + c * first[q]];
}
