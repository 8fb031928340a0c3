import { meanError } from '#core/signal/steady/meanInterval';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { tQuantile } from '#core/stats/distributions/t';
import { fitLine } from '#core/stats/line';
import { mean } from '#core/stats/moments';
import { smallestStep } from '#core/stats/smallestStep';

/** Probes that lay in one place for a while. */
export interface ProbeStretch {
  /** s */
  t: Float64Array;
  /** °C by probe; NaN where it gave no reading */
  values: Record<string, Float64Array>;
}

/** What a probe shows beyond the one it was compared with. */
export interface ProbeError {
  name: string;
  /** what it reads too high, K, at the temperature `at_c` */
  error_k: number;
  at_c: number;
  /** half width of its 95 % interval, K */
  reach_k: number;
  /** change of the error per K of temperature, and the half width of its 95 % interval; null where all stretches were at one temperature */
  gain: number | null;
  gain_reach: number | null;
  /** its own step, K; null where it never changed */
  resolution_k: number | null;
  stretches: number;
}

export interface ProbeComparison {
  probes: ProbeError[];
  /** temperatures of the stretches by the probe that the others were compared with, °C */
  temperatures_c: number[];
  /** greatest change of that probe within a stretch, K/min */
  drift_k_per_min: number;
}

/** Temperatures further apart than this tell how an error changes with temperature, K. */
export const APART_K = 5;
/** Fewest common readings of a stretch. */
const FEWEST = 10;

interface Difference {
  /** °C by the probe that is compared with */
  x: number;
  /** mean difference, K, with its standard error */
  d: number;
  se: number;
  df: number;
}

/**
 * Errors of probes against one of them, from stretches in which all lay in one place: by the means of the differences where all were at one
 * temperature, by a least-squares line through them where they were at two or more. The scatter between stretches (probes lie elsewhere each
 * time) counts where it is larger than what the readings within them tell; with one stretch it is not known and is not in the interval.
 * Half a step of either probe is a type B uncertainty that no averaging takes away (GUM F.2.2.1).
 * @param stretches in one place each
 * @param reference name of the probe that the others are compared with
 * @returns null where no stretch has ten readings of the reference and another probe
 */
export function compareProbes(stretches: ProbeStretch[], reference: string): ProbeComparison | null {
  const names = [...new Set(stretches.flatMap((s) => Object.keys(s.values)))].filter((n) => n !== reference);
  const steps = new Map([reference, ...names].map((n) => [n, stepOf(stretches, n)]));
  const probes = names.flatMap((name) => {
    const differences = stretches.flatMap((s) => differenceOf(s, name, reference) ?? []);
    return differences.length === 0 ? [] : [errorOf(name, differences, steps.get(name) ?? null, steps.get(reference) ?? null)];
  });
  if (probes.length === 0) return null;
  const drifts = stretches.flatMap(({ t, values }) => {
    const line = values[reference] ? fitLine(...known(t, values[reference])) : null;
    return line ? [Math.abs(60 * line.slope)] : [];
  });
  return {
    probes,
    temperatures_c: stretches.flatMap((s) => (s.values[reference] ? [mean(known(s.t, s.values[reference])[1])] : [])),
    drift_k_per_min: Math.max(...drifts, 0),
  };
}

function known(t: Float64Array, values: Float64Array): [Float64Array, Float64Array] {
  const kept = Array.from(values.keys()).filter((i) => !Number.isNaN(values[i]));
  return [Float64Array.from(kept, (i) => t[i]), Float64Array.from(kept, (i) => values[i])];
}

function differenceOf({ t, values }: ProbeStretch, name: string, reference: string): Difference | null {
  const [own, other] = [values[name], values[reference]];
  if (!own || !other) return null;
  const [times, differences] = known(
    t,
    own.map((v, i) => v - other[i]),
  );
  const test = differences.length < FEWEST ? null : slopeTest(times, differences, 0);
  if (!test) return null;
  return { x: mean(known(t, other)[1]), d: test.mean, ...meanError(test) };
}

/** Step of a probe over all stretches, K. */
function stepOf(stretches: ProbeStretch[], name: string): number | null {
  const steps = stretches.flatMap(({ values }) => (values[name] ? (smallestStep(values[name]) ?? []) : []));
  return steps.length === 0 ? null : Math.min(...steps);
}

function errorOf(name: string, differences: Difference[], own: number | null, other: number | null): ProbeError {
  const m = differences.length;
  const x = differences.map((d) => d.x);
  const d = differences.map((v) => v.d);
  const within = mean(differences.map((v) => v.se ** 2));
  const rounding = ((own ?? 0) ** 2 + (other ?? 0) ** 2) / 12;
  const span = Math.max(...x) - Math.min(...x);
  const line = span > APART_K ? fitLine(x, d) : null;
  const centre = line ? line.centre : mean(d);
  const residuals = line ? [...line.residuals] : d.map((v) => v - centre);
  const free = m - (line ? 2 : 1);
  const between = free > 0 ? residuals.reduce((sum, r) => sum + r * r, 0) / free : 0;
  const isBetween = free > 0 && between >= within;
  const variance = Math.max(between, within);
  const df = isBetween ? free : differences.reduce((sum, v) => sum + v.df, 0);
  const sxx = x.reduce((sum, v) => sum + (v - mean(x)) ** 2, 0);
  const shared = { name, at_c: mean(x), error_k: centre, resolution_k: own, stretches: m };
  return {
    ...shared,
    reach_k: reachOf(variance / m, rounding, df),
    gain: line ? line.slope : null,
    // rounding differs from temperature to temperature
    gain_reach: line ? reachOf(variance / sxx, (2 * rounding) / span ** 2, df) : null,
  };
}

/** Half width of a 95 % interval of type A and type B together, by the effective degrees of freedom of Welch and Satterthwaite. */
function reachOf(a: number, b: number, df: number): number {
  const effective = a === 0 ? 1e6 : (df * (a + b) ** 2) / a ** 2;
  return tQuantile(0.975, Math.min(1e6, effective)) * Math.sqrt(a + b);
}
