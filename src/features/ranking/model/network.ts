import { grouped } from '#core/ranking/mountRows';
import type { EvidenceRow } from './placeTypes';

/** Two materials that set-ups have measured side by side. */
export interface NetworkLine {
  a: string;
  b: string;
  setups: string[];
  /** how surely they are compared: sum over the set-ups of 1/(variances + 2τ²), as a share of the heaviest line */
  weight: number;
}

/** Lines of the network of evidence, heaviest first. */
export function networkLines(rows: EvidenceRow[], tau: number): NetworkLine[] {
  const lines = new Map<string, { a: string; b: string; setups: string[]; weight: number }>();
  for (const own of grouped(rows, (r) => r.setup).values())
    for (const [i, one] of own.entries())
      for (const other of own.slice(0, i)) {
        const [a, b] = [one.material, other.material].sort();
        const key = JSON.stringify([a, b]);
        const line = lines.get(key) ?? { a, b, setups: [], weight: 0 };
        line.setups.push(one.setup);
        line.weight += 1 / (one.variance + other.variance + 2 * tau ** 2);
        lines.set(key, line);
      }
  const most = Math.max(...[...lines.values()].map((l) => l.weight), Number.MIN_VALUE);
  return [...lines.values()].map((l) => ({ ...l, weight: l.weight / most })).sort((a, b) => b.weight - a.weight);
}
