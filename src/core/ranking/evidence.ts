import type { RankingRow } from './types';

/**
 * How two materials are compared: in set-ups that have both, or through others that have been measured with each.
 * @returns materials in between, none where a set-up has both; null where no chain leads from one to the other
 */
export function through(rows: RankingRow[], a: string, b: string): string[] | null {
  const beside = (material: string): Set<string> => {
    const setups = new Set(rows.flatMap((r) => (r.material === material ? [r.setup] : [])));
    return new Set(rows.flatMap((r) => (setups.has(r.setup) ? [r.material] : [])));
  };
  const from = new Map<string, string | null>([[a, null]]);
  for (const material of from.keys()) {
    if (material === b) break;
    for (const next of beside(material)) if (!from.has(next)) from.set(next, material);
  }
  if (!from.has(b)) return null;
  const chain: string[] = [];
  for (let at = from.get(b) ?? null; at !== null && at !== a; at = from.get(at) ?? null) chain.unshift(at);
  return chain;
}
