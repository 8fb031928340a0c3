/** A field of deviations over the rectangle that the points span, row by row from the least y, for drawing. */
interface HeightMap {
  columns: number;
  rows: number;
  values: number[];
  x: [number, number];
  y: [number, number];
}

/**
 * Deviations between the points, weighted by the inverse square of the distance to each (Shepard 1968). It goes through every point and
 * never above the highest or below the lowest; between sparse points it is a picture, not a measurement.
 * @returns null where the points span no rectangle
 */
export function heightMap(points: { x_mm: number; y_mm: number; deviation_um: number }[], columns: number): HeightMap | null {
  const x: [number, number] = [Math.min(...points.map((p) => p.x_mm)), Math.max(...points.map((p) => p.x_mm))];
  const y: [number, number] = [Math.min(...points.map((p) => p.y_mm)), Math.max(...points.map((p) => p.y_mm))];
  const width = x[1] - x[0];
  const height = y[1] - y[0];
  if (points.length < 3 || !(width > 0) || !(height > 0)) return null;
  const rows = Math.max(2, Math.min(4 * columns, Math.round((columns * height) / width)));
  const values = Array.from({ length: rows * columns }, (_, i) => {
    const at = { x: x[0] + (width * (i % columns)) / (columns - 1), y: y[0] + (height * Math.floor(i / columns)) / (rows - 1) };
    let sum = 0;
    let weights = 0;
    for (const p of points) {
      const d = (p.x_mm - at.x) ** 2 + (p.y_mm - at.y) ** 2;
      if (d < 1e-12 * (width * width + height * height)) return p.deviation_um;
      sum += p.deviation_um / d;
      weights += 1 / d;
    }
    return sum / weights;
  });
  return { columns, rows, values, x, y };
}
