import { ENOUGH_DF, grouped, type MountsRow, rowsOfMounts } from '#core/ranking/mountRows';
import { atLevel, atSpeed, levelRange, type Sweep } from '#core/thermal/coolers/sweep';

/** A cooler on one rig in one study, over its fan speeds, K/W. */
export interface CoolerSweep {
  name: string;
  rig_id: number;
  rig: string;
  /** what lay under it */
  material: string;
  area_mm2: number | null;
  sweep: Sweep;
}

/** What a study says of coolers. */
export interface CoolersGiven {
  study_id: number;
  study: string;
  /** null for this lab's own */
  lab: string | null;
  weighting: string;
  /** that levels are told for, m; null where it is not stated */
  distance_m: number | null;
  sweeps: CoolerSweep[];
}

/** At what coolers are compared. */
export interface CoolerHeld {
  by: 'noise' | 'speed';
  at: number;
}

/** What an address says of it; null where it says nothing that can be. */
export function heldOf(params: URLSearchParams): CoolerHeld | null {
  const by = params.get('by');
  const at = Number(params.get('at') ?? Number.NaN);
  if (by === 'noise' && at >= 0 && at <= 120) return { by, at };
  return by === 'speed' && at >= 50 && at <= 30_000 ? { by, at } : null;
}

/** What coolers are ranked from, and which of them cannot be read there. */
export interface CoolerEvidence {
  rows: MountsRow[];
  setupNames: Record<string, string>;
  studies: Record<string, { study_id: number; study: string }[]>;
  /** newest study that has each cooler */
  study_of: Record<string, number>;
  unread: string[];
  /** of the levels that are compared: a level of another weighting is another noise */
  weighting: string;
}

/** Scatter between mounts that is assumed where none is known, K/W: half a kelvin at 140 W. */
const ASSUMED_SD = 0.5 / 140;

/**
 * Rows of a ranking of coolers, K/W at one noise or speed, one a set-up and cooler. A set-up is a rig with what lies under the coolers; its
 * noise counts only beside that of the same distance, which a study states, and only levels of one weighting are compared.
 */
export function coolerRows(given: CoolersGiven[], held: CoolerHeld, labs: 'own' | 'all'): CoolerEvidence {
  const unread: string[] = [];
  const counted = given.filter((g) => labs === 'all' || g.lab === null);
  const weighting = usualWeighting(counted);
  const setupNames: Record<string, string> = {};
  const studies: CoolerEvidence['studies'] = {};
  const studyOf: Record<string, number> = {};
  const mounts = counted.flatMap((g) =>
    g.sweeps.flatMap((s) => {
      if (held.by === 'noise' && g.weighting !== weighting) {
        unread.push(`${s.name} in ${g.study} (its levels are weighted ${g.weighting})`);
        return [];
      }
      const state = held.by === 'noise' ? atLevel(s.sweep, held.at) : atSpeed(s.sweep, held.at);
      if (!state || (held.by === 'noise' && s.sweep.missing !== '')) {
        unread.push(`${s.name} in ${g.study}`);
        return [];
      }
      const setup = JSON.stringify([g.lab, s.rig_id, s.material, ...(held.by === 'noise' ? [g.distance_m] : [])]);
      setupNames[setup] = [s.rig, s.material, held.by === 'noise' ? distanceWords(g) : '', g.lab === null ? '' : g.lab || 'another lab']
        .filter(Boolean)
        .join(', ');
      studyOf[s.name] = g.study_id;
      const known = studies[setup] ?? [];
      studies[setup] = known.some((k) => k.study_id === g.study_id) ? known : [...known, { study_id: g.study_id, study: g.study }];
      return state.mounts.map((value) => ({ setup, material: s.name, value }));
    }),
  );
  const squares = [...grouped(mounts, (m) => JSON.stringify([m.setup, m.material])).values()].map((own) => {
    const mean = own.reduce((sum, m) => sum + m.value, 0) / own.length;
    return { squares: own.reduce((sum, m) => sum + (m.value - mean) ** 2, 0), df: own.length - 1 };
  });
  const df = squares.reduce((sum, s) => sum + s.df, 0);
  const pooled = df >= ENOUGH_DF ? Math.sqrt(squares.reduce((sum, s) => sum + s.squares, 0) / df) : 0;
  return {
    rows: mounts.length === 0 ? [] : rowsOfMounts(mounts, () => pooled || ASSUMED_SD),
    setupNames,
    studies,
    study_of: studyOf,
    unread,
    weighting,
  };
}

/** Weighting of most of the sweeps. */
function usualWeighting(given: CoolersGiven[]): string {
  const counts = new Map<string, number>();
  for (const { weighting, sweeps } of given) counts.set(weighting, (counts.get(weighting) ?? 0) + sweeps.length);
  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? 'A';
}

const distanceWords = ({ distance_m }: CoolersGiven): string =>
  distance_m === null ? 'meter at a distance not specified' : `meter at ${Number(distance_m.toPrecision(3))} m`;

/** Noise and speed at which most coolers can be read: where the most sweeps reach, the middle of that. */
export function usualHeld(given: CoolersGiven[]): CoolerHeld | null {
  const weighting = usualWeighting(given);
  const sweeps = given.flatMap((g) => g.sweeps.map((s) => s.sweep));
  const heard = given.flatMap((g) => (g.weighting === weighting ? g.sweeps.map((s) => s.sweep) : []));
  const middle = (ranges: [number, number][], step: number): number | null => {
    if (ranges.length === 0) return null;
    const ends = ranges.flat().sort((a, b) => a - b);
    const reach = (v: number) => ranges.filter(([low, high]) => low <= v && v <= high).length;
    const stretches = ends.slice(1).map((high, i) => ({ at: (ends[i] + high) / 2, width: high - ends[i] }));
    const best = stretches.reduce(
      (b, s) => (reach(s.at) > reach(b.at) || (reach(s.at) === reach(b.at) && s.width > b.width) ? s : b),
      stretches[0],
    );
    return Math.round(best.at / step) * step;
  };
  const noise = middle(
    heard.flatMap((s) => {
      const range = s.missing === '' ? levelRange(s) : null;
      return range ? [range] : [];
    }),
    1,
  );
  if (noise !== null) return { by: 'noise', at: noise };
  const speed = middle(
    sweeps.flatMap((s) => (s.rise ? [s.rise.rpm] : [])),
    10,
  );
  return speed === null ? null : { by: 'speed', at: speed };
}
