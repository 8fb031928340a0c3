/** A point of a photograph, in pixels from its upper left corner. */
export interface Point {
  x: number;
  y: number;
}

/** Corners of the part as they lie in the photograph: upper left, upper right, lower right, lower left. */
export type Corners = [Point, Point, Point, Point];

/** A decoded photograph: 8-bit sRGB with alpha, row by row from the upper left. */
export interface Photo {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/** What of the photograph is the part, and how its two tones are told apart. */
export interface ImprintOptions {
  corners: Corners;
  /** the part's size along its upper edge, mm */
  length_mm: number;
  /** the part's size along its left edge, mm */
  width_mm: number;
  /** true for the face that was turned over to be photographed: what is right in the picture was left on the part */
  mirrored: boolean;
  /** true where the same bare face is seen around the part, so that what was squeezed out can be told */
  face_goes_on: boolean;
  /** where between bare (0) and covered (1) the boundary lies; null: half-way */
  threshold: number | null;
  /** true where the tone taken for the material is the bare face, and the other way round */
  swapped: boolean;
}

/** The part seen straight from above, with a margin around it. */
export interface Straight {
  columns: number;
  rows: number;
  /** cells of the margin on every side */
  margin: number;
  /** cells per mm, along and across */
  per_mm: { x: number; y: number };
  /** pixels of the photograph along a cell's side */
  px_per_cell: number;
  /** linear light of red, green and blue, 0 to 1 */
  light: [Float32Array, Float32Array, Float32Array];
  /** 1 where the photograph is clipped by glare */
  glare: Uint8Array;
  /** 1 where the cell lies outside the photograph */
  outside: Uint8Array;
}

/** Why a print's cover may be off by more than its texture makes it. */
export type UnsureReason = 'tones_differ' | 'soft_edges' | 'overexposed';

/** A straightened photograph with how far every cell lies between bare and covered; what a change of threshold begins from. */
export interface ScoredPrint {
  straight: Straight;
  /** 0 bare, 1 covered, over the part and its margin */
  score: Float32Array;
  /** the same by lightness alone, by colour alone, or with what is overexposed taken otherwise, where these can be told */
  others: Float32Array[];
  separation: number;
  /** width over which the material thins out at its edges, mm */
  edge_mm: number;
  glare: number;
}

export interface CornerZone {
  place: 'upper left' | 'upper right' | 'lower right' | 'lower left';
  /** share of the corner's square, a quarter of the sides long, that is covered */
  cover: number;
  /** tone of its covered cells where the mean of all covered cells is 1; null where nothing is covered */
  tone: number | null;
  state: 'thin' | 'thick' | 'even';
}

/** Where material lies, in the part's own directions: x to the right, y upwards, as the part is seen from above. */
export interface PrintShape {
  /** share of the part that is covered */
  cover: number;
  voids: { share: number; count: number; largest_mm2: number; list: { x_mm: number; y_mm: number; area_mm2: number }[] };
  /** centre of the covered area from the part's centre, mm */
  offset: { x_mm: number; y_mm: number; r_mm: number };
  /** share covered in the middle, between and at the rim, by thirds of the way out */
  rings: [number, number, number];
}

/** What the photograph of one face shows. */
export interface Imprint extends PrintShape {
  /** cover by every way of telling the tones, with the boundary nearer to bare and nearer to covered */
  cover_range: [number, number];
  /** why the cover is no more than a range; empty where it is sure */
  unsure: UnsureReason[];
  /** width over which the material thins out at its edges, mm */
  edge_mm: number;
  corners: CornerZone[];
  /**
   * material beyond the part's edge that hangs together with the print, as a share of the part; null where something else is seen around
   * the part
   */
  squeeze_out: { share: number; reach_mm: number } | null;
  /** share of the part that is clipped by glare or overexposed */
  glare: number;
  /** distance of the two tones in standard deviations */
  separation: number;
  threshold: number;
  mask: ImprintMask;
}

/** Covered cells of the straightened part with its margin. */
export interface ImprintMask {
  columns: number;
  rows: number;
  margin: number;
  /** 0 bare, 1 covered, 2 void */
  cells: Uint8Array;
}

/** A photograph that cannot be measured, with a sentence for the person. */
export class ImprintError extends Error {
  constructor(
    readonly code: 'corners_crossed' | 'corner_outside' | 'part_small' | 'too_steep' | 'glare' | 'dark' | 'one_tone' | 'size',
    message: string,
  ) {
    super(message);
  }
}
