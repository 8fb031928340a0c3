/** A screw's place, mm; the origin is the middle of the part that is pressed. */
export interface Screw {
  x: number;
  y: number;
}

export const SCHEMES = ['cross', 'star', 'spiral'] as const;
export type Scheme = (typeof SCHEMES)[number];

/**
 * Order in which screws are tightened, as indexes.
 * - `cross`: each screw is followed by the one most opposite to it, and pairs follow each other as crosswise as they can; where that tilts
 * the cooler
 *   more than it must, as with odd numbers of screws, the order that tilts it least.
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
      return leastTilting(screws, centre, crosswise(screws, centre));
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

/** More screws than this take their order as it comes: the ways to share them out double with each. */
const MOST_SEARCHED = 14;

/**
 * The order from the first screw on whose greatest tilt is least, and of those the one that tilts least in all. The tilt after some screws
 * is the distance of their summed places from the middle: equal forces there leave a moment of that arm.
 * @param usual order that is kept where none is better
 */
function leastTilting(screws: Screw[], centre: Screw, usual: number[]): number[] {
  const n = screws.length;
  if (n < 3 || n > MOST_SEARCHED) return usual;
  const places = screws.map((s) => ({ x: s.x - centre.x, y: s.y - centre.y }));
  // summed places of each set: those of the set without its last screw, and that screw
  const [x, y] = [new Float64Array(1 << n), new Float64Array(1 << n)];
  for (let set = 1; set < 1 << n; set++) {
    const i = 31 - Math.clz32(set);
    const rest = set & ~(1 << i);
    x[set] = x[rest] + places[i].x;
    y[set] = y[rest] + places[i].y;
  }
  const tilts = x.map((v, set) => Math.hypot(v, y[set]));
  const slack = 1e-9 * Math.max(...tilts);
  const worst = best(tilts, n, Math.max).least;
  // of the orders that never tilt more than the best one must, that of the least sum of squares
  const calm = tilts.map((t) => (t <= worst + slack ? t * t : Number.POSITIVE_INFINITY));
  const found = best(calm, n, (a, b) => a + b);
  const costOf = (order: number[]) =>
    order.reduce(({ set, sum }, i) => ({ set: set | (1 << i), sum: sum + calm[set | (1 << i)] }), { set: 0, sum: 0 }).sum;
  return costOf(usual) <= found.least * (1 + 1e-9) + slack ? usual : found.order;
}

/** The way through growing sets of screws, the first screw first, whose costs join to the least. */
function best(cost: Float64Array, n: number, join: (a: number, b: number) => number): { order: number[]; least: number } {
  const all = (1 << n) - 1;
  const least = new Float64Array(1 << n).fill(Number.POSITIVE_INFINITY);
  const last = new Int8Array(1 << n);
  least[1] = cost[1];
  for (let set = 1; set <= all; set += 2)
    for (let i = 1; i < n; i++) {
      const before = set & ~(1 << i);
      if (before === set) continue;
      const joined = join(least[before], cost[set]);
      if (joined < least[set]) {
        least[set] = joined;
        last[set] = i;
      }
    }
  const order: number[] = [];
  for (let set = all; set > 1; set &= ~(1 << last[set])) order.unshift(last[set]);
  return { order: [0, ...order], least: least[all] };
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
export const torqueRounds = (final: number, rounds: number): number[] =>
  Array.from({ length: rounds }, (_, i) => (final * (i + 1)) / rounds);
