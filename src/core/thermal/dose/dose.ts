import { capDiameter } from './sphericalCap';

export const PATTERNS = ['dot', 'dots', 'line', 'cross', 'spread', 'film', 'sheet'] as const;
export type Pattern = (typeof PATTERNS)[number];

/** The part that is to be covered; sizes in mm. A row has several parts of one size beside each other. */
export interface DosePart {
  kind: 'lid' | 'die' | 'dies' | 'row';
  length_mm: number;
  width_mm: number;
  /** parts of this size; 1 for a lid or a single die */
  count: number;
}

export interface DoseInput {
  part: DosePart;
  pattern: Pattern;
  /** film after pressing, µm */
  bond_line_um: number;
  /** share that squeezes out or stays on the tool, such as 0.15 */
  waste: number;
  density_g_per_cm3: number;
  /** angle at which a fresh drop meets the face, degrees */
  contact_angle_deg: number;
}

/** A piece of the pattern on one part, mm from its centre. */
type DoseShape =
  | { kind: 'dot'; x: number; y: number; diameter: number }
  | { kind: 'line'; x1: number; y1: number; x2: number; y2: number; width: number }
  | { kind: 'film'; length: number; width: number };

/** How much to apply, and where. */
interface Amount {
  /** area to be covered, all parts, mm² */
  area_mm2: number;
  /** all parts; 1 mm³ is 1 µl */
  volume_mm3: number;
  mass_mg: number;
  /** of one part, as it is applied */
  shapes: DoseShape[];
}

/** An amount with how far it spreads. */
export interface Dose extends Amount {
  /** radius to which each dot spreads at the bond line, mm; null for patterns without dots */
  spread_radius_mm: number | null;
  /**
   * share of a part that the pressed pattern covers if nothing hinders it: a dot spreads as a circle, a line as a band round at its ends
   */
  cover: number;
}

/**
 * How much to apply and where: volume = area × bond line × (1 + waste), laid out as the pattern asks. A film on two faces counts the bond
 * line once: both films join when pressed.
 */
export function amountFor(input: DoseInput): Amount {
  const { part, density_g_per_cm3 } = input;
  const volume = volumeEach(input) * part.count;
  return {
    area_mm2: part.length_mm * part.width_mm * part.count,
    volume_mm3: volume,
    mass_mg: volume * density_g_per_cm3,
    shapes: layOut(input, volumeEach(input)),
  };
}

/** Volume on one part, mm³. */
const volumeEach = ({ part, bond_line_um, waste }: DoseInput): number =>
  part.length_mm * part.width_mm * (bond_line_um / 1000) * (1 + waste);

/** The amount with how far it spreads and what it covers, which takes counting over the face. */
export function dose(input: DoseInput): Dose {
  const amount = amountFor(input);
  const each = volumeEach(input);
  const dots = amount.shapes.filter((s) => s.kind === 'dot');
  return {
    ...amount,
    spread_radius_mm: dots.length > 0 ? reachOf(dots, each / (input.bond_line_um / 1000), input.part) : null,
    cover: coverShare(input, each),
  };
}

/** Lids above this area take a grid of dots instead of one, mm² (practice, step 6: beyond a set area). */
const ONE_DOT_UP_TO = 900;
/** Longer than this in proportion, a part takes a line. */
const LONG = 1.8;

/** Pattern that fits part and material where nothing else is said, with the reason. */
export function usualPattern(
  part: DosePart,
  material: 'paste' | 'putty' | 'liquid_metal' | 'epoxy' | 'sheet',
): { pattern: Pattern; why: string } {
  if (material === 'sheet') return { pattern: 'sheet', why: 'Sheets are cut to the part.' };
  if (material === 'liquid_metal') return { pattern: 'film', why: 'Liquid metal is a thin wetted film on both faces, never a bead.' };
  if (part.kind !== 'lid') return { pattern: 'spread', why: 'A bare die is covered in full: a dry corner has no lid to spread its heat.' };
  const ratio = Math.max(part.length_mm, part.width_mm) / Math.min(part.length_mm, part.width_mm);
  if (ratio >= LONG) return { pattern: 'line', why: 'The part is long: a line along it spreads to both ends.' };
  if (part.length_mm * part.width_mm > ONE_DOT_UP_TO)
    return { pattern: 'dots', why: `Above ${ONE_DOT_UP_TO} mm² one dot does not reach the corners.` };
  return { pattern: 'dot', why: 'A central dot spreads evenly under a lid of this size.' };
}

/** Lines stay this far from the edge, as a share of the part's length, so that they do not run over first. */
const LINE_SHARE = 0.7;

function layOut({ part, pattern, contact_angle_deg }: DoseInput, volume: number): DoseShape[] {
  const { length_mm: l, width_mm: w } = part;
  const dot = (x: number, y: number, share: number): DoseShape => ({
    kind: 'dot',
    x,
    y,
    diameter: capDiameter(volume * share, contact_angle_deg),
  });
  const alongLength = l >= w;
  const line = (along: boolean, length: number, share: number): DoseShape => {
    const half = length / 2;
    const width = beadWidth((volume * share) / length, contact_angle_deg);
    return along ? { kind: 'line', x1: -half, y1: 0, x2: half, y2: 0, width } : { kind: 'line', x1: 0, y1: -half, x2: 0, y2: half, width };
  };
  switch (pattern) {
    case 'dot':
      return [dot(0, 0, 1)];
    case 'dots': {
      const columns = Math.max(2, Math.round(l / 15));
      const rows = Math.max(2, Math.round(w / 15));
      return Array.from({ length: rows * columns }, (_, i) =>
        dot((((i % columns) + 0.5) / columns - 0.5) * l, ((Math.floor(i / columns) + 0.5) / rows - 0.5) * w, 1 / (rows * columns)),
      );
    }
    case 'line':
      return [line(alongLength, LINE_SHARE * Math.max(l, w), 1)];
    case 'cross': {
      const total = l + w;
      return [line(true, LINE_SHARE * l, l / total), line(false, LINE_SHARE * w, w / total)];
    }
    case 'spread':
    case 'film':
    case 'sheet':
      return [{ kind: 'film', length: l, width: w }];
  }
}

/** Width of a bead whose section is a circular segment of the contact angle, from its volume per length (mm²). */
function beadWidth(section: number, contactAngle: number): number {
  const t = (contactAngle * Math.PI) / 180;
  // segment of radius r: area r²(t − sin t cos t), width 2 r sin t
  const r = Math.sqrt(section / (t - Math.sin(t) * Math.cos(t)));
  return 2 * r * Math.sin(t);
}

/** Points a side over which areas are counted, and how far beyond the part they go, as a share of its longer side. */
const GRID = 90;
const BEYOND = 0.5;

/** Share of a part that the pattern covers when it is pressed to the bond line: what lies within a shape's reach of it. */
function coverShare(input: DoseInput, volume: number): number {
  const { length_mm: l, width_mm: w } = input.part;
  const area = volume / (input.bond_line_um / 1000);
  const shapes = layOut(input, volume).filter((s) => s.kind !== 'film');
  if (shapes.length === 0) return Math.min(1, area / (l * w));
  const reach = reachOf(shapes, area, input.part);
  return distances(shapes, l, w).filter((d) => d <= reach).length / GRID ** 2;
}

type Spreading = Exclude<DoseShape, { kind: 'film' }>;

/** How far shapes spread that grow alike until they fill an area: where they meet, what is over goes on outwards. */
function reachOf(shapes: Spreading[], area: number, { length_mm, width_mm }: DosePart): number {
  if (shapes.length === 1) {
    const length = lengthOf(shapes[0]);
    // a band round at its ends: π r² + 2 r length
    return (Math.sqrt(length * length + Math.PI * area) - length) / Math.PI;
  }
  const margin = 2 * BEYOND * Math.max(length_mm, width_mm);
  const [l, w] = [length_mm + margin, width_mm + margin];
  // as many points as the area holds lie within the reach, the nearest first
  const nearest = distances(shapes, l, w).sort();
  const within = Math.ceil((area / (l * w)) * GRID ** 2);
  return nearest[Math.min(GRID ** 2, Math.max(1, within)) - 1];
}

const lengthOf = (s: Spreading) => (s.kind === 'line' ? Math.hypot(s.x2 - s.x1, s.y2 - s.y1) : 0);

/** How far each point of a grid over a rectangle about the middle is from the nearest shape. */
function distances(shapes: Spreading[], l: number, w: number): Float64Array {
  const found = new Float64Array(GRID * GRID).fill(Number.POSITIVE_INFINITY);
  for (const s of shapes)
    for (let i = 0; i < GRID * GRID; i++) {
      const x = (((i % GRID) + 0.5) / GRID - 0.5) * l;
      const y = ((Math.floor(i / GRID) + 0.5) / GRID - 0.5) * w;
      found[i] = Math.min(found[i], squareTo(s, x, y));
    }
  return found.map(Math.sqrt);
}

/** Square of the distance from a point to a shape's middle line. */
function squareTo(shape: Spreading, x: number, y: number): number {
  if (shape.kind === 'dot') return (x - shape.x) ** 2 + (y - shape.y) ** 2;
  const [dx, dy] = [shape.x2 - shape.x1, shape.y2 - shape.y1];
  const along = Math.min(1, Math.max(0, ((x - shape.x1) * dx + (y - shape.y1) * dy) / (dx * dx + dy * dy)));
  return (x - shape.x1 - along * dx) ** 2 + (y - shape.y1 - along * dy) ** 2;
}

interface DoseJudgement {
  /** share of the part that is covered, as its pattern spreads */
  cover: number;
  /** what squeezes out at the bond line, mm³ */
  squeezed_mm3: number;
}

/** What a given amount does on all parts: too little leaves a dry share, too much squeezes out. */
export function judgeAmount(mass_mg: number, input: DoseInput): DoseJudgement {
  const { part, bond_line_um, density_g_per_cm3 } = input;
  const volume = mass_mg / density_g_per_cm3;
  const needed = (part.length_mm * part.width_mm * part.count * bond_line_um) / 1000;
  const cover = coverShare(input, volume / part.count);
  return { cover, squeezed_mm3: Math.max(0, volume - cover * needed) };
}

/** Mean bond line that a weighed amount leaves if all of it stays on the parts, µm. */
export const meanBondLine = (mass_mg: number, area_mm2: number, density_g_per_cm3: number): number =>
  (1000 * mass_mg) / density_g_per_cm3 / area_mm2;

/** Parts of a two-part material by its mixing ratio, such as 1 : 1 or 10 : 1. */
export const mixedParts = (mass_mg: number, a: number, b: number): { a_mg: number; b_mg: number } => ({
  a_mg: (mass_mg * a) / (a + b),
  b_mg: (mass_mg * b) / (a + b),
});
