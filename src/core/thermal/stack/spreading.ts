/** A plate that spreads heat from a smaller source on its one face to a cooler on its other. */
interface Plate {
  /** W/(m·K) */
  k: number;
  /** m */
  thickness: number;
  /** m², of the source and of the plate */
  source_area: number;
  area: number;
}

/** The series is cut where twice as many terms change it by less than this. */
const CUT = 1e-4;
const FIRST_TERMS = 24;
const MOST_TERMS = 400;

/**
 * Resistance of a plate, K/W: conduction through it and the spreading from its source, at the mean temperature of the source. The series of
 * a rectangle in the middle of a rectangle with a uniform cooler behind. A source as large as the plate, or larger, leaves conduction
 * alone. Source: Yovanovich, Muzychka & Culham, "Spreading resistance of isoflux rectangles and strips on compound flux channels", Journal
 * of Thermophysics and Heat Transfer 13 (1999).
 *
 * Limits: one source in the middle, heat even over it, a uniform cooler behind; source and plate are taken as squares of their area.
 * @param beyond resistance from the plate's far face on, K/W; the less there is, the less the heat spreads
 */
export function plateResistance(plate: Plate, beyond: number): { conduction: number; spreading: number } {
  const { k, thickness, source_area, area } = plate;
  const conduction = thickness / (k * area);
  if (!(source_area < area)) return { conduction, spreading: 0 };
  let spreading = 0;
  for (let terms = FIRST_TERMS; ; terms *= 2) {
    const finer = series(plate, beyond, Math.min(terms, MOST_TERMS));
    const done = terms >= MOST_TERMS || Math.abs(finer - spreading) < CUT * finer;
    spreading = finer;
    if (done) return { conduction, spreading };
  }
}

/** So many terms each way, and as many squared of both ways together. */
function series({ k, thickness, source_area, area }: Plate, beyond: number, terms: number): number {
  const half = Math.sqrt(area) / 2;
  const source = Math.sqrt(source_area) / 2;
  // what the plate and the cooler behind it make of a wave of this number, 1/m; film over conductivity is 1/(k R area)
  const film = beyond > 0 ? 1 / (k * beyond * area) : Number.POSITIVE_INFINITY;
  const damping = (wave: number) => {
    const through = Math.tanh(wave * thickness);
    return film === Number.POSITIVE_INFINITY ? through : (wave + film * through) / (wave * through + film);
  };
  const waves = Float64Array.from({ length: terms }, (_, m) => ((m + 1) * Math.PI) / half);
  // mean of the wave over the source, squared
  const seen = waves.map((w) => (Math.sin(source * w) / (source * w)) ** 2);
  let sum = 0;
  for (let m = 0; m < terms; m++) {
    // along one side and along the other, which are alike in a square
    sum += (seen[m] * damping(waves[m])) / waves[m];
    for (let n = 0; n < terms; n++) {
      const wave = Math.hypot(waves[m], waves[n]);
      sum += (seen[m] * seen[n] * damping(wave)) / wave;
    }
  }
  return sum / (half * half * k);
}
