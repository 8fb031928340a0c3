/** What is known before the load is chosen. */
interface HeadroomInput {
  /** worst resistance to expect from sensor to room, K/W */
  worst_k_per_w: number;
  /** resistance of each specimen where it is known or guessed, K/W */
  specimens: { specimen: string; k_per_w: number }[];
  /** warmest room the study allows, °C */
  warmest_c: number;
  /** throttle limit, °C */
  limit_c: number;
  /** planned load, W */
  load_w: number | null;
}

interface Headroom {
  /** load at which the worst specimen stays 5 K below the limit, W; 0 where the room alone is too warm */
  highest_load_w: number;
  readings: { specimen: string; sensor_c: number; rise_k: number; below_limit_k: number }[];
  /** reading of the worst resistance at the planned load, °C */
  worst_c: number | null;
}

/** Distance to the limit that keeps the governor out of the result, K (method, §5). */
export const HEADROOM_K = 5;

/**
 * Highest load at which the worst specimen stays clear of the throttle limit in the warmest room, and what each specimen reads at
 * the planned load (or, without one, at the highest).
 * @example headroom({ worst_k_per_w: 0.35, specimens: [], warmest_c: 28, limit_c: 92, load_w: 140 }).highest_load_w // 168.6
 */
export function headroom({ worst_k_per_w, specimens, warmest_c, limit_c, load_w }: HeadroomInput): Headroom {
  const highest = Math.max(0, (limit_c - HEADROOM_K - warmest_c) / worst_k_per_w);
  const load = load_w ?? highest;
  const reading = (k: number) => warmest_c + k * load;
  return {
    highest_load_w: highest,
    readings: specimens.map((s) => ({
      specimen: s.specimen,
      sensor_c: reading(s.k_per_w),
      rise_k: s.k_per_w * load,
      below_limit_k: limit_c - reading(s.k_per_w),
    })),
    worst_c: load_w === null ? null : reading(worst_k_per_w),
  };
}
