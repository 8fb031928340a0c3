import type { RankingRow } from './types';

/**
 * The rows that a material is connected to: by set-ups that share a material, one after the other. Nothing can be said of differences to the
 * rest.
 */
export function connectedTo(rows: RankingRow[], material: string): RankingRow[] {
  const materials = new Set([material]);
  const setups = new Set<string>();
  for (let before = -1; before !== materials.size + setups.size; ) {
    before = materials.size + setups.size;
    for (const row of rows) {
      if (materials.has(row.material)) setups.add(row.setup);
      if (setups.has(row.setup)) materials.add(row.material);
    }
  }
  return rows.filter((row) => setups.has(row.setup));
}
