/** A plate that spreads heat from a smaller source on its one face to a cooler on its other. */
export interface Plate {
  /** W/(m·K) */
  k: number;
  /** m */
  thickness: number;
  /** m², of the source and of the plate */
  source_area: number;
  area: number;
}

/**
 * Resistance of a plate, K/W: conduction through it and the spreading from its source, at the mean temperature of the source.
 * Closed form of Lee, Song, Au & Moran (ASME/JSME Thermal Engineering 1995) on discs of equal area, within about 10 % of the series.
 * A source as large as the plate, or larger, leaves conduction alone.
 *
 * Limits: one source in the middle, a uniform cooler behind; squares are taken as discs of their area.
 * @param beyond resistance from the plate's far face on, K/W; the less there is, the less the heat spreads
 */
export function plateResistance({ k, thickness, source_area, area }: Plate, beyond: number): { conduction: number; spreading: number } {
  const conduction = thickness / (k * area);
  const a = Math.sqrt(source_area / Math.PI);
  const b = Math.sqrt(area / Math.PI);
  const epsilon = a / b;
  if (!(epsilon < 1)) return { conduction, spreading: 0 };
  const lambda = Math.PI + 1 / (Math.sqrt(Math.PI) * epsilon);
  const through = Math.tanh((lambda * thickness) / b);
  // λ/Bi with Bi = 1/(π k b R₀)
  const ratio = lambda * Math.PI * k * b * beyond;
  const phi = (through + ratio) / (1 + ratio * through);
  return { conduction, spreading: (0.5 * (1 - epsilon) ** 1.5 * phi) / (Math.sqrt(Math.PI) * k * a) };
}
