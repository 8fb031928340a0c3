import type { RailMaterial } from './placeTypes';

/** What a maker claims of a material beside what the lab's own ranking allows. */
export interface Claim {
  material: string;
  name: string;
  claimed_w_per_mk: number;
  bond_line_um: number;
  /** resistance by the claim: bond line over conductivity, mm²·K/W */
  claimed_mm2k_per_w: number;
  /** the most that its conductivity can effectively be, W/(m·K): at the estimate, and at the lower end of its difference; null where nothing bounds it */
  at_most: number | null;
  at_most_high: number | null;
}

/**
 * Claimed conductivities against the ranking. The ranking knows differences only, so the best material is taken at its maker's word, or at
 * nothing where no claim is known: every other then resists at least that much more, and conducts at most its bond line over that. What
 * remains between claim and bound is contact resistance, a thicker bond line, or a claim made under other conditions.
 * @param materials best first, differences in mm²·K/W
 */
export function claimsOf(materials: RailMaterial[]): Claim[] {
  const [best] = materials;
  const bestOwn = best?.claimed_w_per_mk && best.bond_line_um ? best.bond_line_um / best.claimed_w_per_mk : 0;
  return materials.flatMap((m): Claim[] => {
    const { claimed_w_per_mk: k, bond_line_um: line } = m;
    if (!k || !line) return [];
    const above = m.difference - best.difference + bestOwn;
    // of a pair the half interval is at most the sum of both against the reference
    const half = (m.ci95[1] - m.ci95[0]) / 2 + (best.ci95[1] - best.ci95[0]) / 2;
    const least = above - half;
    return [
      {
        ...{ material: m.material, name: m.name, claimed_w_per_mk: k, bond_line_um: line, claimed_mm2k_per_w: line / k },
        at_most: m === best || above <= 0 ? null : line / above,
        at_most_high: m === best || least <= 0 ? null : line / least,
      },
    ];
  });
}
