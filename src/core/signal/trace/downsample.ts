/** A line for the screen: at most two points per pixel column, its lowest and highest reading, so that no peak is lost. */
interface Polyline {
  t: number[];
  v: (number | null)[];
}

/** A thinned line with what it shows. */
export interface ChannelLine extends Polyline {
  name: string;
  role: string;
  unit: string | null;
}

/**
 * Thins a series to the columns a screen can show. Each column keeps its lowest and highest reading in their order in time;
 * a column without any reading, and any gap wider than a column, breaks the line with a null.
 * @param columns pixel columns between from and to
 * @param widest largest step in seconds that the line may bridge
 */
export function downsample(t: Float64Array, values: Float64Array, from: number, to: number, columns: number, widest: number): Polyline {
  const out: Polyline = { t: [], v: [] };
  const width = (to - from) / columns;
  let column = -1;
  let low = -1;
  let high = -1;
  let before = Number.NaN;
  const push = (i: number) => {
    if (t[i] - before > Math.max(widest, 2 * width)) {
      out.t.push((before + t[i]) / 2);
      out.v.push(null);
    }
    out.t.push(t[i]);
    out.v.push(values[i]);
    before = t[i];
  };
  const flush = () => {
    if (low < 0) return;
    push(Math.min(low, high));
    if (low !== high) push(Math.max(low, high));
    low = -1;
  };
  for (let i = 0; i < t.length; i++) {
    if (t[i] < from || t[i] > to || Number.isNaN(values[i])) continue;
    const here = Math.floor((t[i] - from) / width);
    if (here !== column) {
      flush();
      column = here;
    }
    if (low < 0) {
      low = i;
      high = i;
    } else {
      if (values[i] < values[low]) low = i;
      if (values[i] > values[high]) high = i;
    }
  }
  flush();
  return out;
}
