/** A screw's place, mm; the origin is the middle of the part that is pressed. */
export interface Screw {
  x: number;
  y: number;
}

export const SCHEMES = ['cross', 'star', 'spiral'] as const;
export type Scheme = (typeof SCHEMES)[number];

/**
 * Order in which screws are tightened, as indexes.
 * - `cross`: each screw is followed by the one most opposite to it; pairs follow each other as crosswise as they can.
 * - `star`: around the middle in steps of nearly half a turn, as the points of a star are drawn.
 * - `spiral`: from the middle outwards, around.
 */
export function tighteningOrder(screws: Screw[], scheme: Scheme): number[] {
  const centre = { x: mean(screws.map((s) => s.x)), y: mean(screws.map((s) => s.y)) };
  const angle = screws.map((s) => Math.atan2(s.y - centre.y, s.x - centre.x));
  const radius = screws.map((s) => Math.hypot(s.x - centre.x, s.y - centre.y));
  const around = screws.map((_, i) => i).sort((a, b) => angle[a] - angle[b] || radius[a] - radius[b]);
  switch (scheme) {
    case 'cross':
      return crosswise(screws, centre);
    case 'star':
      return starOrder(around);
    case 'spiral':
      return screws.map((_, i) => i).sort((a, b) => Math.round(radius[a] - radius[b]) || angle[a] - angle[b]);
  }
}

const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

function crosswise(screws: Screw[], centre: Screw): number[] {
  const left = screws.map((_, i) => i);
  const order: number[] = [];
  const take = (i: number) => {
    left.splice(left.indexOf(i), 1);
    order.push(i);
  };
  // cosine between two screws as seen from the middle: −1 opposite, 0 crosswise
  const cosine = (a: number, b: number) => {
    const [p, q] = [screws[a], screws[b]].map((s) => ({ x: s.x - centre.x, y: s.y - centre.y }));
    const length = Math.hypot(p.x, p.y) * Math.hypot(q.x, q.y);
    return length === 0 ? 0 : (p.x * q.x + p.y * q.y) / length;
  };
  const best = (score: (i: number) => number) => left.reduce((a, b) => (score(b) < score(a) - 1e-9 ? b : a));
  while (left.length > 0) {
    const last = order.at(-1);
    if (last === undefined) take(0);
    else if (order.length % 2 === 1) take(best((i) => cosine(last, i)));
    else take(best((i) => Math.abs(cosine(last, i))));
  }
  return order;
}

/** Steps of nearly half a turn; where that would come back too early, the next screw around begins the next star. */
function starOrder(around: number[]): number[] {
  const n = around.length;
  const step = Math.max(1, Math.ceil(n / 2));
  const seen = new Set<number>();
  const order: number[] = [];
  let at = 0;
  while (order.length < n) {
    while (seen.has(at)) at = (at + 1) % n;
    seen.add(at);
    order.push(around[at]);
    at = (at + step) % n;
  }
  return order;
}

/** Torques of the rounds that lead up to the final one, as shares of it: all screws once a round. */
export function torqueRounds(final: number, rounds: number): number[] {
  return Array.from({ length: rounds }, (_, i) => (final * (i + 1)) / rounds);
}
