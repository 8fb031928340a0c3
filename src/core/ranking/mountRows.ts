import type { RankingRow } from './types';

/** A mount of a material in a set-up, with its area-scaled resistance, mm²·K/W. */
export interface RankedMount {
  setup: string;
  material: string;
  value: number;
}

/** Where the variance of a mean is from: the material's own mounts there, those of all its set-up's materials together, or elsewhere. */
export type ScatterBasis = 'own' | 'pooled' | 'assumed';

/** A row with what it was formed from. */
export interface MountsRow extends RankingRow {
  mounts: number;
  basis: ScatterBasis;
}

/** With so many degrees of freedom a scatter speaks for itself. */
export const ENOUGH_DF = 4;

/**
 * One row a set-up and material from its mounts. The variance of a mean is by the material's own scatter in that set-up where it has enough
 * degrees of freedom, else by that of all materials of the set-up together, else by what is assumed. A scatter of nothing is a lack of
 * figures and is passed over.
 * @param assumed standard deviation between mounts that is assumed of a material in a set-up, mm²·K/W; null where none is
 * @throws Error in a sentence where no scatter can be told
 * Source: method §8.
 */
export function rowsOfMounts(mounts: RankedMount[], assumed: (setup: string, material: string) => number | null): MountsRow[] {
  return [...grouped(mounts, (m) => m.setup)].flatMap(([setup, own]) => {
    const groups = [...grouped(own, (m) => m.material)].map(([material, of]) => ({ material, ...spread(of.map((m) => m.value)) }));
    const { df, squares } = groups.reduce((sum, g) => ({ df: sum.df + g.df, squares: sum.squares + g.squares }), { df: 0, squares: 0 });
    return groups.map((g): MountsRow => {
      const sd = assumed(setup, g.material);
      const [variance, basis]: [number | null, ScatterBasis] =
        g.df >= ENOUGH_DF && g.squares > 0
          ? [g.squares / g.df, 'own']
          : df >= ENOUGH_DF && squares > 0
            ? [squares / df, 'pooled']
            : [sd === null ? null : sd ** 2, 'assumed'];
      if (variance === null)
        throw new Error(
          df >= ENOUGH_DF
            ? `All mounts of ${g.material} in ${setup} have the same value, so their scatter cannot be told. Give it by --default-mount-sd.`
            : `The scatter between mounts in ${setup} cannot be told: it has ${df} degrees of freedom, and ${ENOUGH_DF} are needed. Give it by --default-mount-sd.`,
        );
      return { setup, material: g.material, mean: g.mean, variance: variance / (g.df + 1), mounts: g.df + 1, basis };
    });
  });
}

/** Things by what they share, in the order of their first appearance. */
export function grouped<T>(things: T[], by: (thing: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const thing of things) {
    const key = by(thing);
    const group = groups.get(key);
    if (group) group.push(thing);
    else groups.set(key, [thing]);
  }
  return groups;
}

/** Mean, sum of squares around it and degrees of freedom. */
export function spread(values: number[]): { mean: number; squares: number; df: number } {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return { mean, squares: values.reduce((sum, v) => sum + (v - mean) ** 2, 0), df: values.length - 1 };
}
