/**
 * p values adjusted for several tests, by Holm's step-down method; it holds whatever the tests have in common.
 * @param ps p of each test; null for one that has none, which does not count
 * @returns in the same order
 * Source: Holm (1979), Scandinavian Journal of Statistics 6, 65–70.
 */
export function holm(ps: (number | null)[]): (number | null)[] {
  const order = ps.flatMap((p, i) => (p === null ? [] : [{ p, i }])).sort((x, y) => x.p - y.p);
  const adjusted: (number | null)[] = ps.map(() => null);
  let least = 0;
  for (const [rank, { p, i }] of order.entries()) {
    least = Math.max(least, Math.min(1, p * (order.length - rank)));
    adjusted[i] = least;
  }
  return adjusted;
}
