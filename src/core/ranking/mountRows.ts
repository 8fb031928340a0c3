import type { RankingRow } from './types';

/** A mount of a material in a set-up, with its area-scaled resistance, mm²·K/W. */
export interface RankedMount {
  setup: string;
  material: string;
  value: number;
}

/** With so many degrees of freedom a scatter speaks for itself. */
const ENOUGH_DF = 4;

/**
 * One row a set-up and material from its mounts. The variance of a mean is by the material's own scatter in that set-up where it has enough
 * degrees of freedom, else by that of all materials of the set-up together, else by what is assumed.
 * @param default_sd standard deviation between mounts that is assumed, mm²·K/W; null where none is
 * @throws Error in a sentence where no scatter can be told
 * Source: method §8.
 */
export function rowsOfMounts(mounts: RankedMount[], default_sd: number | null): RankingRow[] {
  return [...new Set(mounts.map((m) => m.setup))].flatMap((setup) => {
    const own = mounts.filter((m) => m.setup === setup);
    const groups = [...new Set(own.map((m) => m.material))].map((material) => ({
      material,
      ...spread(own.flatMap((m) => (m.material === material ? [m.value] : []))),
    }));
    const df = groups.reduce((sum, g) => sum + g.df, 0);
    const pooled = df >= ENOUGH_DF ? groups.reduce((sum, g) => sum + g.squares, 0) / df : null;
    return groups.map((g): RankingRow => {
      const variance = g.df >= ENOUGH_DF ? g.squares / g.df : (pooled ?? (default_sd === null ? null : default_sd ** 2));
      if (variance === null)
        throw new Error(
          `The scatter between mounts in ${setup} cannot be told: it has ${df} degrees of freedom, and ${ENOUGH_DF} are needed. Give it by --default-mount-sd.`,
        );
      if (variance === 0) throw new Error(`All mounts of ${g.material} in ${setup} have the same value, so their scatter cannot be told.`);
      return { setup, material: g.material, mean: g.mean, variance: variance / (g.df + 1) };
    });
  });
}

/** Mean, sum of squares around it and degrees of freedom. */
function spread(values: number[]): { mean: number; squares: number; df: number } {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return { mean, squares: values.reduce((sum, v) => sum + (v - mean) ** 2, 0), df: values.length - 1 };
}
