import type { RailMaterial } from './placeTypes';

/** Which materials of the rail are shown; they all stay in the evidence. */
export interface RailFilter {
  /** empty: all */
  kind: string;
  /** most that one mount may cost; null: any */
  most_cost: number | null;
  permanent: 'any' | 'no';
  conducts: 'any' | 'no';
  /** newest measurement within so many years; null: any */
  within_years: number | null;
}

export const NO_FILTER: RailFilter = { kind: '', most_cost: null, permanent: 'any', conducts: 'any', within_years: null };

const SECONDS_A_YEAR = 365.25 * 86_400;

/** Materials that pass, and those of which the shelf does not say what is asked: these are kept, and counted. */
export function filtered(materials: RailMaterial[], f: RailFilter, now_s: number): { shown: RailMaterial[]; unsaid: number } {
  let unsaid = 0;
  const shown = materials.filter((m) => {
    const fails =
      (f.kind !== '' && m.kind !== f.kind) ||
      (f.most_cost !== null && m.cost !== null && m.cost > f.most_cost) ||
      (f.permanent === 'no' && m.permanent === true) ||
      (f.conducts === 'no' && m.conducts === true) ||
      (f.within_years !== null && m.newest_s !== null && m.newest_s < now_s - f.within_years * SECONDS_A_YEAR);
    if (fails) return false;
    const isUnsaid =
      (f.most_cost !== null && m.cost === null) ||
      (f.permanent === 'no' && m.permanent === null) ||
      (f.conducts === 'no' && m.conducts === null) ||
      (f.within_years !== null && m.newest_s === null);
    if (isUnsaid) unsaid++;
    return true;
  });
  return { shown, unsaid };
}
