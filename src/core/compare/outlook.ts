import type { States } from './fixedStates';
import type { Model } from './model';
import type { Outlook, Side } from './moreMounts';
import type { SpecimenGroup } from './oneWay';
import type { AnalysisOptions, PairTest } from './types';

/**
 * By whose scatter a pair is judged, that of all or its own, and the half width of its interval in standard errors by degrees of freedom.
 */
interface Basis {
  scatter: 'pooled' | 'own';
  limit: (df: number) => number;
}

/**
 * How more mounts change a pair: its scatter is the one it is judged by; a state that cannot be remounted keeps its error, as does what
 * mounts share.
 */
export function outlook(
  pair: [SpecimenGroup, SpecimenGroup],
  chosen: PairTest,
  { scatter, limit }: Basis,
  { model, options, states }: { model: Model; options: AnalysisOptions; states: States },
): Outlook {
  const shared = pair.flatMap((g) => options.shared_errors[g.specimen] ?? []).reduce((sum, e) => sum + e.se ** 2, 0);
  const held = pair.map((g) => states.get(g.specimen)?.[scatter === 'pooled' ? 'pooled' : 'separate']?.variance ?? null);
  const growing = chosen.se ** 2 - shared - held.reduce<number>((sum, v) => sum + (v ?? 0), 0);
  const weights = pair.map((g, i) => (held[i] !== null ? 0 : scatter === 'own' && g.sd !== null ? g.sd ** 2 / g.n : 1 / g.n));
  const weight = weights.reduce((sum, w) => sum + w, 0);
  const sideOf = (i: number): Side => ({
    variance: Math.max(0, held[i] ?? (growing * weights[i]) / weight),
    n: pair[i].n,
    grows: held[i] === null,
  });
  const sides: [Side, Side] = [sideOf(0), sideOf(1)];
  // Holm and Bonferroni judge by other limits than their family's: the ratio of today is kept
  const ratio = chosen.df === null ? 1 : (chosen.ci[1] - chosen.ci[0]) / 2 / chosen.se / limit(chosen.df);
  return {
    ...{ difference: chosen.difference, margin: options.margin, sides, fixed: shared },
    df: dfWith(sides, chosen, scatter, model),
    critical: (df) => ratio * limit(df),
  };
}

/** Degrees of freedom of the scatter with so many more mounts. */
function dfWith(sides: [Side, Side], chosen: PairTest, scatter: 'pooled' | 'own', model: Model): (more: number) => number {
  const measured = sides.every((s) => s.grows && s.n > 1);
  if (scatter === 'own' && measured && !model.blocks) return (more) => welchDf(sides, more);
  // a scatter that was lent gives way to the study's own
  const now = scatter === 'own' || measured ? (chosen.df ?? 0) : model.df;
  // a new block brings a mount of each and takes one degree of freedom
  const each = model.blocks ? 1 : sides.filter((s) => s.grows).length;
  return (more) => now + each * more;
}

/** Welch–Satterthwaite degrees of freedom with more mounts of the same scatter. */
function welchDf(sides: [Side, Side], more: number): number {
  const parts = sides.map((s) => ({ variance: (s.variance * s.n) / (s.n + more), df: s.n + more - 1 }));
  const total = parts.reduce((sum, p) => sum + p.variance, 0);
  return total ** 2 / parts.reduce((sum, p) => sum + p.variance ** 2 / p.df, 0);
}

/** Up to so many degrees of freedom each whole number is a node of its own; beyond, each node is so many times the one before. */
const EACH = 20;
const APART = 1.3;

/**
 * A function of degrees of freedom that is dear to compute: once at each of some nodes, and between them by 1/df, in which limits are
 * nearly straight.
 */
export function interpolated(f: (df: number) => number): (df: number) => number {
  const known = new Map<number, number>();
  const at = (df: number) => {
    const value = known.get(df) ?? f(df);
    known.set(df, value);
    return value;
  };
  return (df) => {
    const step = Math.max(0, Math.floor(Math.log(df / EACH) / Math.log(APART)));
    const [low, high] =
      df < EACH ? [Math.max(1, Math.floor(df)), Math.max(1, Math.floor(df)) + 1] : [EACH * APART ** step, EACH * APART ** (step + 1)];
    const share = (1 / low - 1 / Math.max(low, df)) / (1 / low - 1 / high);
    return share === 0 ? at(low) : at(low) + share * (at(high) - at(low));
  };
}
