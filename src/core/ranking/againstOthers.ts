import { tTwoSided } from '#core/stats/distributions/t';
import { holm } from '#core/stats/holm';
import { grouped } from './mountRows';
import { difference, rankMaterials } from './rankMaterials';
import type { RankingRow, SetupAgainstOthers } from './types';

/** A set-up's word on a material with its p value adjusted for all of that set-up's materials. */
export type AdjustedAgainstOthers = SetupAgainstOthers & { p_adjusted: number };

/** Adjusts the p values of each set-up for its materials (Holm). */
export function adjustedWithinSetups(told: SetupAgainstOthers[]): AdjustedAgainstOthers[] {
  return [...grouped(told, (t) => t.setup).values()].flatMap((own) => {
    const adjusted = holm(own.map((t) => t.p));
    return own.map((t, i) => ({ ...t, p_adjusted: adjusted[i] as number }));
  });
}

/**
 * Each set-up against what all others say of its materials: it is left out, the rest is fitted anew as far as it is connected to the set-up's
 * first material that the rest knows. Only where the rest has a degree of freedom.
 * @param setups those that are told; all of them where it is not said
 * Source: method §8 (a node of the network split off; Dias, Welton, Caldwell & Ades 2010, Statistics in Medicine 29, 932–944).
 */
export function setupsAgainstOthers(rows: RankingRow[], setups = [...new Set(rows.map((r) => r.setup))]): SetupAgainstOthers[] {
  // with one set-up less τ is mostly near what it was
  const [first] = rows;
  const near = setups.length > 1 && first ? rankMaterials(rows, first.material).fit.tau2 || null : null;
  return setups.flatMap((setup) => {
    const own = rows.filter((r) => r.setup === setup);
    const rest = rows.filter((r) => r.setup !== setup);
    const base = own.find((r) => rest.some((o) => o.material === r.material));
    if (!base) return [];
    const others = rankMaterials(rest, base.material, near);
    const { df, tau } = others;
    if (df < 1 || tau === null) return [];
    return own.flatMap((row): SetupAgainstOthers[] => {
      if (row.material === base.material || !others.design.materials.includes(row.material)) return [];
      const told = difference(others, row.material, base.material);
      const direct = row.mean - base.mean;
      const t = (direct - told.difference) / Math.sqrt(row.variance + base.variance + told.se ** 2 + 2 * tau ** 2);
      return [
        {
          ...{ setup, material: row.material, base: base.material, direct, others: told.difference },
          ...{ difference: direct - told.difference, t, df, p: tTwoSided(t, df) },
        },
      ];
    });
  });
}
