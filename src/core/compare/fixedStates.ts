import { sumOfSquares } from '#core/stats/moments';
import type { OneWayFit, SpecimenGroup } from './oneWay';
import { judgePair, type Yardstick } from './pairTest';
import type { AnalysisRow } from './rows';
import type { Finding, PairTest } from './types';

/** Error of a specimen's mean: variance of the mean and its degrees of freedom. */
export interface MeanError {
  variance: number;
  df: number;
}

/** Scatter of runs on their mounts. */
interface RunScatter {
  sd: number;
  df: number;
}

/** Scatter of the runs about their mount's mean, over all specimens or of one; null where no mount has two runs. */
function runScatter(rows: AnalysisRow[], specimen?: string): RunScatter | null {
  const mounts = new Map<string, number[]>();
  for (const r of rows) {
    if (specimen !== undefined && r.specimen !== specimen) continue;
    const key = JSON.stringify([r.specimen, r.mount]);
    const known = mounts.get(key);
    if (known) known.push(r.value);
    else mounts.set(key, [r.value]);
  }
  const lists = [...mounts.values()];
  const df = lists.reduce((n, l) => n + l.length - 1, 0);
  return df < 1 ? null : { sd: Math.sqrt(lists.reduce((sum, l) => sum + sumOfSquares(l), 0) / df), df };
}

/** Error of a state that cannot be remounted: it is that device's own state, so its mean carries the scatter of its runs alone. */
function stateError(rows: AnalysisRow[], specimen: string, scatter: RunScatter | null): MeanError | null {
  const runs = rows.filter((r) => r.specimen === specimen).length;
  return scatter && runs > 0 ? { variance: scatter.sd ** 2 / runs, df: scatter.df } : null;
}

/** Judges two means by their own errors, Welch–Satterthwaite. */
export function judgeMeans(a: SpecimenGroup, b: SpecimenGroup, errors: [MeanError, MeanError], family: Yardstick): PairTest {
  const total = errors[0].variance + errors[1].variance;
  const df = total === 0 ? null : total ** 2 / errors.reduce((sum, e) => sum + e.variance ** 2 / e.df, 0);
  return judgePair(a, b, Math.sqrt(total), df, family);
}

/** Error of a remounted specimen's mean, from its own mounts or a given scatter. */
export function mountError(g: SpecimenGroup, pooled: { sd: number; df: number } | null): MeanError | null {
  if (pooled) return pooled.df < 1 ? null : { variance: pooled.sd ** 2 / g.n, df: pooled.df };
  return g.sd === null ? null : { variance: g.sd ** 2 / g.n, df: g.n - 1 };
}

/** Errors of the states that cannot be remounted, by the scatter of all runs and by their own. */
export type States = Map<string, { pooled: MeanError | null; separate: MeanError | null; runs: number }>;

/** The errors of the named states; one with a second mount was remounted and is none. */
export function statesOf(names: string[], fit: OneWayFit, used: AnalysisRow[], findings: Finding[]): States {
  const all = runScatter(used);
  const states: States = new Map();
  for (const g of fit.groups) {
    if (!names.includes(g.specimen) || g.n !== 1) continue;
    const pooled = stateError(used, g.specimen, all);
    if (pooled === null) continue;
    const runs = used.filter((r) => r.specimen === g.specimen).length;
    states.set(g.specimen, { pooled, separate: stateError(used, g.specimen, runScatter(used, g.specimen)), runs });
    findings.push({
      code: 'fixed_state',
      severity: 'note',
      message: `${g.specimen} cannot be mounted again: it is that device's own state, so its ${runs === 1 ? 'one run carries' : `${runs} runs carry`} run error only, and what is said holds for this one device.`,
    });
  }
  return states;
}
