import { normalQuantile } from '#core/stats/distributions/normal';
import { tQuantile } from '#core/stats/distributions/t';

/** One source of uncertainty of a quantity. */
export interface UncertaintySource {
  name: string;
  distribution: 'normal' | 'rectangular' | 'triangular';
  /** standard deviation of a normal source */
  sd?: number;
  /** half width of a rectangular or triangular one */
  half_width?: number;
  /** degrees of freedom; null where they are infinite */
  df: number | null;
  /** change of the quantity per unit of the source; 0 where it cancels, as a shared offset does in a difference */
  sensitivity: number;
}

export interface Correlation {
  a: string;
  b: string;
  r: number;
}

export interface UncertaintyBudget {
  components: { name: string; standard_uncertainty: number; contribution: number }[];
  combined: number;
  /** Welch–Satterthwaite; null where all are infinite */
  effective_df: number | null;
  coverage_factor: number;
  /** half width at the confidence asked for */
  expanded: number;
}

/** Standard uncertainty of a source: a half width over √3 where any value in it is as likely, over √6 where the middle is likeliest. */
function standardUncertainty(source: UncertaintySource): number {
  switch (source.distribution) {
    case 'normal':
      return source.sd ?? 0;
    case 'rectangular':
      return (source.half_width ?? 0) / Math.sqrt(3);
    case 'triangular':
      return (source.half_width ?? 0) / Math.sqrt(6);
  }
}

/**
 * Combined and expanded uncertainty of a quantity by propagation. Source: JCGM 100:2008 (GUM), equations 13 and G.2b, Welch–Satterthwaite;
 * limits: linear in its sources, result about normal.
 * @param confidence of the expanded uncertainty, such as 0.95
 */
export function combineUncertainty(sources: UncertaintySource[], correlations: Correlation[], confidence: number): UncertaintyBudget {
  const components = sources.map((s) => {
    const u = standardUncertainty(s);
    return { name: s.name, standard_uncertainty: u, contribution: s.sensitivity * u };
  });
  const contribution = new Map(components.map((c) => [c.name, c.contribution]));
  const own = components.reduce((sum, c) => sum + c.contribution ** 2, 0);
  const shared = correlations.reduce((sum, { a, b, r }) => sum + 2 * r * (contribution.get(a) ?? 0) * (contribution.get(b) ?? 0), 0);
  const combined = Math.sqrt(Math.max(0, own + shared));
  const finite = components.reduce((sum, c, i) => {
    const df = sources[i].df;
    return df === null ? sum : sum + c.contribution ** 4 / df;
  }, 0);
  const df = finite > 0 ? combined ** 4 / finite : null;
  const tail = (1 + confidence) / 2;
  const factor = df === null ? normalQuantile(tail) : tQuantile(tail, df);
  return { components, combined, effective_df: df, coverage_factor: factor, expanded: factor * combined };
}
