import type { Screw } from './order';

/** Thread and friction of a screw; lengths in mm. */
interface Thread {
  pitch_mm: number;
  /** pitch diameter d₂ */
  pitch_diameter_mm: number;
  /** mean diameter of the face under the head */
  head_diameter_mm: number;
  friction_thread: number;
  friction_head: number;
}

/** Pitch and pitch diameter of metric coarse threads, mm (ISO 724), with the mean bearing diameter of a cylinder head (ISO 4762). */
export const METRIC_THREADS: Record<string, Pick<Thread, 'pitch_mm' | 'pitch_diameter_mm' | 'head_diameter_mm'>> = {
  M2: { pitch_mm: 0.4, pitch_diameter_mm: 1.74, head_diameter_mm: 3.0 },
  'M2.5': { pitch_mm: 0.45, pitch_diameter_mm: 2.208, head_diameter_mm: 3.6 },
  M3: { pitch_mm: 0.5, pitch_diameter_mm: 2.675, head_diameter_mm: 4.35 },
  M4: { pitch_mm: 0.7, pitch_diameter_mm: 3.545, head_diameter_mm: 5.6 },
  M5: { pitch_mm: 0.8, pitch_diameter_mm: 4.48, head_diameter_mm: 6.9 },
};

/**
 * Clamping force of one screw from its torque, N. Source: VDI 2230-1, T = F (0.159 P + 0.577 d₂ µ_G + D_Km µ_K / 2).
 * Friction is seldom known better than to a quarter, and so is the force.
 * @param torque N·m
 */
export function clampForce(torque: number, t: Thread): number {
  const arm = 0.159 * t.pitch_mm + 0.577 * t.pitch_diameter_mm * t.friction_thread + (t.head_diameter_mm / 2) * t.friction_head;
  return (1000 * torque) / arm;
}

/** Force of a spring pressed by some length, N; a sprung screw gives this and no more once it sits on its shoulder. */
export const springForce = (rate_n_per_mm: number, compression_mm: number): number => rate_n_per_mm * Math.max(0, compression_mm);

/** Units torque is given in, with their size in N·m. */
export const TORQUE_UNITS = [
  { unit: 'N·m', nm: 1 },
  { unit: 'cN·m', nm: 0.01 },
  { unit: 'kgf·cm', nm: 0.0980665 },
  { unit: 'lbf·in', nm: 0.112984829 },
  { unit: 'ozf·in', nm: 0.00706155182 },
] as const;

interface Pressure {
  force_n: number;
  /** mean over the part, kPa */
  mean_kpa: number;
  /** at the four corners, first −x −y, then around, kPa; below 0 the corner lifts */
  corners_kpa: [number, number, number, number];
  /** point the forces act through, mm from the middle of the part */
  centre: Screw;
  /** least over greatest corner pressure, 1 is even, 0 or less lifts a corner */
  evenness: number;
}

/**
 * Pressure on a part from the forces of its screws, the cooler taken as stiff: it varies linearly over the part with the moments about
 * its axes. Source: Roark's Formulas for Stress and Strain, eccentric load on a rectangular footing.
 */
export function pressureOn(part: { length_mm: number; width_mm: number }, screws: Screw[], forces: number[]): Pressure {
  const force = forces.reduce((a, b) => a + b, 0);
  const mx = screws.reduce((sum, s, i) => sum + s.x * forces[i], 0);
  const my = screws.reduce((sum, s, i) => sum + s.y * forces[i], 0);
  const { length_mm: l, width_mm: w } = part;
  const area = l * w;
  // N/mm² to kPa
  const at = (x: number, y: number) => 1000 * (force / area + (12 * mx * x) / (w * l ** 3) + (12 * my * y) / (l * w ** 3));
  const corners: Pressure['corners_kpa'] = [at(-l / 2, -w / 2), at(l / 2, -w / 2), at(l / 2, w / 2), at(-l / 2, w / 2)];
  const most = Math.max(...corners);
  return {
    force_n: force,
    mean_kpa: (1000 * force) / area,
    corners_kpa: corners,
    centre: force === 0 ? { x: 0, y: 0 } : { x: mx / force, y: my / force },
    evenness: most <= 0 ? 0 : Math.min(...corners) / most,
  };
}
