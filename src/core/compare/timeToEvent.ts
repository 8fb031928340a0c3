import { normalCdf } from '#core/stats/distributions/normal';

/** Time until an event, or until watching ended without it. */
export interface EventTime {
  s: number;
  reached: boolean;
}

interface LogRank {
  /** (observed − expected)² over its variance, 1 degree of freedom; null where no event can tell */
  chi_squared: number | null;
  p: number | null;
  /** p from all ways to share out the times, where these are few enough; else from χ² */
  exact: boolean;
  observed: [number, number];
  expected: [number, number];
}

/** Most ways to share the times out that are all gone through. */
const MOST_WAYS = 50_000;

/**
 * Log-rank test of two groups of times to an event, some longer than they were watched. Source: Mantel (1966), Peto & Peto (1972). Where
 * the ways to share out the times are few, p is their share that lie as far from what is expected as the observed one, which holds for any
 * number of runs.
 */
export function logRank(a: EventTime[], b: EventTime[]): LogRank {
  const all = [...a, ...b];
  const inFirst = all.map((_, i) => i < a.length);
  const table = riskTable(all);
  const { chi, observed, expected } = statistic(table, inFirst);
  const events = all.filter((t) => t.reached).length;
  const counts: [number, number] = [observed, events - observed];
  const wanted: [number, number] = [expected, events - expected];
  if (chi === null) return { chi_squared: null, p: null, exact: false, observed: counts, expected: wanted };
  if (ways(all.length, a.length) > MOST_WAYS)
    return { chi_squared: chi, p: 2 * normalCdf(-Math.sqrt(chi)), exact: false, observed: counts, expected: wanted };
  let total = 0;
  let far = 0;
  const distance = Math.abs(observed - expected) - 1e-9;
  for (const chosen of choices(all.length, a.length)) {
    const s = statistic(table, chosen);
    total++;
    if (Math.abs(s.observed - s.expected) >= distance) far++;
  }
  return { chi_squared: chi, p: far / total, exact: true, observed: counts, expected: wanted };
}

interface RiskMoment {
  /** who is still watched, and who has the event */
  atRisk: number[];
  now: number[];
}

function riskTable(all: EventTime[]): RiskMoment[] {
  const moments = [...new Set(all.filter((t) => t.reached).map((t) => t.s))].sort((x, y) => x - y);
  return moments.map((m) => ({
    atRisk: all.flatMap((t, i) => (t.s >= m ? [i] : [])),
    now: all.flatMap((t, i) => (t.reached && t.s === m ? [i] : [])),
  }));
}

function statistic(table: RiskMoment[], inFirst: boolean[]): { chi: number | null; observed: number; expected: number } {
  let observed = 0;
  let expected = 0;
  let variance = 0;
  for (const { atRisk, now } of table) {
    const n = atRisk.length;
    const n1 = atRisk.filter((i) => inFirst[i]).length;
    const d = now.length;
    observed += now.filter((i) => inFirst[i]).length;
    expected += (d * n1) / n;
    if (n > 1) variance += (d * (n1 / n) * (1 - n1 / n) * (n - d)) / (n - 1);
  }
  return { chi: variance > 0 ? (observed - expected) ** 2 / variance : null, observed, expected };
}

function ways(n: number, k: number): number {
  let count = 1;
  for (let i = 0; i < Math.min(k, n - k); i++) count = (count * (n - i)) / (i + 1);
  return count;
}

/** All ways to choose k of n. */
function* choices(n: number, k: number): Generator<boolean[]> {
  const chosen = Array.from({ length: k }, (_, i) => i);
  for (;;) {
    const flags = new Array<boolean>(n).fill(false);
    for (const i of chosen) flags[i] = true;
    yield flags;
    let at = k - 1;
    while (at >= 0 && chosen[at] === n - k + at) at--;
    if (at < 0) return;
    chosen[at]++;
    for (let i = at + 1; i < k; i++) chosen[i] = chosen[i - 1] + 1;
  }
}
