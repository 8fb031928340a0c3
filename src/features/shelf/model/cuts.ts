/** Lengths in mm. */
export interface Rectangle {
  length: number;
  width: number;
}

/** A piece on a sheet, from its lower left corner, mm. */
export interface PlacedCut extends Rectangle {
  x: number;
  y: number;
  /** which of the wanted cuts it is */
  cut: number;
}

/** Cuts closer than this to a whole number of them are whole. */
const SLACK = 1e-9;

/**
 * Equal pieces on a sheet by straight cuts from edge to edge: some columns lying one way, the rest of the sheet the other, whichever number
 * of columns yields most.
 */
export function nestEqual(sheet: Rectangle, cut: Rectangle): PlacedCut[] {
  let best: PlacedCut[] = [];
  for (const [l, w] of [
    [cut.length, cut.width],
    [cut.width, cut.length],
  ]) {
    const columns = Math.floor(sheet.length / l + SLACK);
    for (let n = 0; n <= columns; n++) {
      const own = grid({ length: n * l, width: sheet.width }, { length: l, width: w }, 0);
      const rest = grid({ length: sheet.length - n * l, width: sheet.width }, { length: w, width: l }, n * l);
      if (own.length + rest.length > best.length) best = [...own, ...rest];
    }
  }
  return best;
}

function grid(area: Rectangle, { length, width }: Rectangle, x: number): PlacedCut[] {
  const [columns, rows] = [Math.floor(area.length / length + SLACK), Math.floor(area.width / width + SLACK)];
  return Array.from({ length: Math.max(0, columns * rows) }, (_, i) => ({
    ...{ x: x + (i % columns) * length, y: Math.floor(i / columns) * width, length, width },
    cut: 0,
  }));
}

/** Ways to lay cuts out that are all tried: which way a cut lies where both fit alike, and which of two rests stays in one piece. */
const WAYS = [false, true].flatMap((turned) => [false, true].map((longer) => ({ turned, longer })));

/**
 * Cuts of several sizes on one sheet: the largest first, each into the free corner it fills best, the rest parted by a straight cut.
 * @returns null where no way was found to fit them all
 */
export function nestMixed(sheet: Rectangle, cuts: Rectangle[]): PlacedCut[] | null {
  for (const way of WAYS) {
    const placed = nestOneWay(sheet, cuts, way);
    if (placed) return placed;
  }
  return null;
}

function nestOneWay(sheet: Rectangle, cuts: Rectangle[], { turned, longer }: (typeof WAYS)[number]): PlacedCut[] | null {
  let free = [{ x: 0, y: 0, ...sheet }];
  const placed: PlacedCut[] = [];
  const order = cuts.map((cut, i) => ({ ...cut, i })).sort((a, b) => b.length * b.width - a.length * a.width);
  for (const { length, width, i } of order) {
    const both = [
      { length, width },
      { length: width, width: length },
    ];
    const fits = (turned ? both.reverse() : both).flatMap((c) =>
      free.flatMap((f) => (c.length <= f.length + SLACK && c.width <= f.width + SLACK ? [{ f, c, left: f.length * f.width }] : [])),
    );
    if (fits.length === 0) return null;
    const { f, c } = fits.reduce((a, b) => (b.left < a.left ? b : a));
    placed.push({ x: f.x, y: f.y, ...c, cut: i });
    const [dx, dy] = [f.length - c.length, f.width - c.width];
    const standing = dx > dy === longer;
    const parted = [
      { x: f.x + c.length, y: f.y, length: dx, width: standing ? f.width : c.width },
      { x: f.x, y: f.y + c.width, length: standing ? c.length : f.length, width: dy },
    ];
    free = [...free.filter((o) => o !== f), ...parted.filter((r) => r.length > SLACK && r.width > SLACK)];
  }
  return placed;
}

/** Most sets that are laid out: more do not tell more. */
const MOST_SETS = 200;

/** The cuts of as many mounts as one sheet serves; empty where it does not serve one. */
export function nestSets(sheet: Rectangle, cuts: Rectangle[]): { sets: number; placed: PlacedCut[] } {
  if (cuts.length === 0) return { sets: 0, placed: [] };
  const [first] = cuts;
  if (cuts.every((c) => c.length === first.length && c.width === first.width)) {
    const placed = nestEqual(sheet, first);
    const sets = Math.floor(placed.length / cuts.length);
    return { sets, placed: placed.slice(0, sets * cuts.length).map((p, i) => ({ ...p, cut: i % cuts.length })) };
  }
  let best: { sets: number; placed: PlacedCut[] } = { sets: 0, placed: [] };
  for (let sets = 1; sets <= MOST_SETS; sets++) {
    const placed = nestMixed(sheet, Array.from({ length: sets }, () => cuts).flat());
    if (!placed) break;
    best = { sets, placed: placed.map((p) => ({ ...p, cut: p.cut % cuts.length })) };
  }
  return best;
}

/** A cut may stand over a part by so much on each side, mm; more is told. */
const OVERLAP_MM = 1;

/**
 * What is wrong with a cut before it is made, as sentences.
 * @param part what it lies on; null where its size is not known
 * @param sheet what it is cut from; null where its size is not known
 */
export function cutProblems(what: string, cut: Rectangle, part: Rectangle | null, sheet: Rectangle | null): string[] {
  const size = (r: Rectangle) => `${r.length} × ${r.width} mm`;
  const problems: string[] = [];
  const inside = (a: Rectangle, b: Rectangle) =>
    (a.length <= b.length + SLACK && a.width <= b.width + SLACK) || (a.length <= b.width + SLACK && a.width <= b.length + SLACK);
  if (sheet && !inside(cut, sheet)) problems.push(`A cut of ${size(cut)} for ${what} does not fit on a sheet of ${size(sheet)}.`);
  if (!part) return problems;
  // turned so that both lie alike
  const [l, w] = cut.length >= cut.width === part.length >= part.width ? [cut.length, cut.width] : [cut.width, cut.length];
  const covered = Math.min(l, part.length) * Math.min(w, part.width);
  const bare = 1 - covered / (part.length * part.width);
  if (bare > 0.005) problems.push(`A cut of ${size(cut)} leaves ${Math.round(100 * bare)} % of ${what} (${size(part)}) bare.`);
  const over = Math.max(l - part.length, w - part.width) / 2;
  if (over > OVERLAP_MM + SLACK)
    problems.push(`A cut of ${size(cut)} overhangs ${what} (${size(part)}) by ${Number(over.toFixed(2))} mm a side.`);
  return problems;
}
