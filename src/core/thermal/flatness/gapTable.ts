/** A neighbour of the die under the same cooler, with the pad or putty that bridges to it. */
export interface Neighbour {
  name: string;
  /** distance between the neighbour's top and the cooler's base when the base sits on the die, mm */
  gap_mm: number;
  /** free thickness of the pad, mm */
  thickness_mm: number;
  area_mm2: number;
  /** pressure at a quarter of compression, kPa; nearly 0 for putty */
  pressure_at_quarter_kpa: number;
  /** compression beyond which it is as good as solid, as a share of the free thickness */
  most_compression: number;
}

interface NeighbourState {
  name: string;
  /** share of its free thickness by which it is pressed; below 0 it does not touch */
  compression: number;
  force_n: number;
  /** share of the clamping force that it takes from the die */
  share: number;
  /** air left between pad and base, mm */
  open_mm: number;
}

interface GapTable {
  neighbours: NeighbourState[];
  /** force left for the die, N */
  die_force_n: number;
  /** gap that the neighbours hold open over the die, mm */
  die_gap_mm: number;
  findings: { code: 'held_off' | 'not_touching' | 'overpressed'; message: string }[];
}

/**
 * Where the clamping force goes: pads are springs that stiffen towards their solid height; the base comes down until it sits on the die or
 * the pads carry it. Force of a pad: F = A p₂₅ (c / 0.25) / (1 − c / c_max) · (1 − 0.25 / c_max), which is p₂₅ at a quarter and without
 * bound at c_max.
 * @param clamp_n force of the screws or springs on the cooler
 */
export function gapTable(neighbours: Neighbour[], clamp_n: number): GapTable {
  const held = (lift: number) => neighbours.reduce((sum, n) => sum + padForce(n, lift), 0);
  let lift = 0;
  if (held(0) > clamp_n) {
    // the lowest height at which the pads carry no more than the clamp gives
    let low = 0;
    let high = Math.max(...neighbours.map((n) => n.thickness_mm - n.gap_mm));
    for (let i = 0; i < 100; i++) {
      const middle = (low + high) / 2;
      if (held(middle) > clamp_n) low = middle;
      else high = middle;
    }
    lift = high;
  }
  const states = neighbours.map((n): NeighbourState => {
    const force = padForce(n, lift);
    return {
      name: n.name,
      compression: compressionOf(n, lift),
      force_n: force,
      share: clamp_n > 0 ? force / clamp_n : 0,
      open_mm: Math.max(0, n.gap_mm + lift - n.thickness_mm),
    };
  });
  return {
    neighbours: states,
    die_force_n: Math.max(0, clamp_n - states.reduce((sum, s) => sum + s.force_n, 0)),
    die_gap_mm: lift,
    findings: findingsOf(neighbours, states, lift),
  };
}

const compressionOf = (n: Neighbour, lift: number): number => (n.thickness_mm - n.gap_mm - lift) / n.thickness_mm;

function padForce(n: Neighbour, lift: number): number {
  const c = compressionOf(n, lift);
  if (c <= 0) return 0;
  if (c >= n.most_compression) return Number.POSITIVE_INFINITY;
  const quarter = 1 - 0.25 / n.most_compression;
  // kPa × mm² is mN
  return ((n.pressure_at_quarter_kpa * n.area_mm2) / 1000) * ((c / 0.25) * (quarter / (1 - c / n.most_compression)));
}

function findingsOf(neighbours: Neighbour[], states: NeighbourState[], lift: number): GapTable['findings'] {
  const findings: GapTable['findings'] = [];
  if (lift > 0.0005) {
    const worst = states.reduce((a, b) => (b.force_n > a.force_n ? b : a));
    findings.push({
      code: 'held_off',
      message: `${worst.name} carries the cooler: ${lift.toFixed(2)} mm are left over the die. A thinner or softer pad there, or putty.`,
    });
  }
  states.forEach((s, i) => {
    if (s.open_mm > 0)
      findings.push({
        code: 'not_touching',
        message: `${s.name} is not touched: ${s.open_mm.toFixed(2)} mm of air are left. A pad thicker than ${(neighbours[i].gap_mm + lift).toFixed(2)} mm.`,
      });
    else if (s.compression > 0.9 * neighbours[i].most_compression)
      findings.push({
        code: 'overpressed',
        message: `${s.name} is pressed by ${Math.round(100 * s.compression)} %, close to the ${Math.round(100 * neighbours[i].most_compression)} % it can take.`,
      });
  });
  return findings;
}
