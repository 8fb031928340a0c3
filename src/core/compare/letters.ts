import type { OneWayFit } from './oneWay';
import type { Outcome } from './outcomes';
import type { AnalysedPair } from './types';

/**
 * Compact letter display: two specimens share a letter exactly when their pair is not significant.
 *
 * The letters are cliques that cover every not-significant pair. Specimens are taken from the coolest up; each pair
 * not covered yet, the widest first, is grown to a full clique; letters that others make redundant are taken away.
 * This takes polynomial time where inserting and absorbing columns (Piepho 2004) may not.
 * @param ordered specimen names from the coolest mean up
 * @param significant pairs that differ, either way round
 * @returns letters per specimen, the coolest has "a"
 */
export function compactLetters(ordered: string[], significant: [string, string][]): Map<string, string> {
  const n = ordered.length;
  const position = new Map(ordered.map((name, i) => [name, i]));
  const differs = Array.from({ length: n }, () => new Uint8Array(n));
  for (const [a, b] of significant) {
    const i = position.get(a);
    const j = position.get(b);
    if (i === undefined || j === undefined) continue;
    differs[i][j] = 1;
    differs[j][i] = 1;
  }
  const cliques = removeRedundant(coverPairs(n, differs), n);
  cliques.sort((p, q) => p[0] - q[0] || p.length - q.length || p[p.length - 1] - q[q.length - 1]);
  const letters = new Map(ordered.map((name) => [name, '']));
  cliques.forEach((clique, index) => {
    for (const i of clique) letters.set(ordered[i], letters.get(ordered[i]) + letterName(index));
  });
  return letters;
}

function coverPairs(n: number, differs: Uint8Array[]): number[][] {
  const covered = Array.from({ length: n }, () => new Uint8Array(n));
  const cliques: number[][] = [];
  const grow = (seed: number[], from: number) => {
    const clique = [...seed];
    // nearest in the order first, so that contiguous bands come out as bands
    const others = Array.from({ length: n }, (_, i) => i)
      .filter((i) => !seed.includes(i))
      .sort((p, q) => Number(p < from) - Number(q < from) || Math.abs(p - from) - Math.abs(q - from));
    for (const i of others) if (clique.every((j) => !differs[i][j])) clique.push(i);
    clique.sort((p, q) => p - q);
    for (const i of clique) for (const j of clique) covered[i][j] = 1;
    cliques.push(clique);
  };
  for (let i = 0; i < n; i++) {
    for (let j = n - 1; j > i; j--) if (!differs[i][j] && !covered[i][j]) grow([i, j], i);
    if (!covered[i][i]) grow([i], i);
  }
  return cliques;
}

function removeRedundant(cliques: number[][], n: number): number[][] {
  const times = Array.from({ length: n }, () => new Int32Array(n));
  const count = (clique: number[], by: number) => {
    for (const i of clique) for (const j of clique) times[i][j] += by;
  };
  for (const clique of cliques) count(clique, 1);
  const kept: number[][] = [];
  for (const clique of [...cliques].sort((p, q) => p.length - q.length)) {
    if (clique.every((i) => clique.every((j) => times[i][j] > 1))) count(clique, -1);
    else kept.push(clique);
  }
  return kept;
}

function letterName(index: number): string {
  const alphabet = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ';
  const turn = Math.floor(index / alphabet.length);
  return alphabet[index % alphabet.length] + (turn > 0 ? String(turn) : '');
}

/** Letters of specimens by the pairs that were told apart. */
export function lettersOf(fit: OneWayFit, pairs: AnalysedPair[], confidence: number, outcome: Outcome): Map<string, string> {
  const sign = outcome.better === 'lower' ? 1 : -1;
  const ordered = [...fit.groups].sort((p, q) => sign * (p.mean - q.mean)).map((g) => g.specimen);
  const significant = pairs.filter((p) => p.p_adjusted !== null && p.p_adjusted < 1 - confidence).map((p): [string, string] => [p.a, p.b]);
  return compactLetters(ordered, significant);
}
