import { fUpperTail } from '#core/stats/distributions/f';
import { tQuantile, tTwoSided } from '#core/stats/distributions/t';

/** What one lab says of a material against the reference, from its own set-ups alone. */
export interface LabLead {
  lab: string;
  /** mm²·K/W */
  lead: number;
  se: number;
  /** mounts of the material there, and the squares around their means with the degrees of freedom of these */
  mounts: number;
  squares: number;
  df: number;
}

/** A lab beside the others on one material. */
export interface LabConsistency extends LabLead {
  /** how far its lead lies from the mean of all, in standard deviations between labs (Mandel's h); null with two labs */
  h: number | null;
  /** scatter of its mounts against that of all (Mandel's k); null without two mounts */
  k: number | null;
  /** beyond what one lab in twenty shows by chance */
  h_stands_out: boolean;
  k_stands_out: boolean;
}

/** How well labs agree on one material. */
export interface BetweenLabs {
  labs: LabConsistency[];
  /** standard deviation between mounts within a lab, mm²·K/W; null without two mounts anywhere */
  repeatability_sd: number | null;
  /** standard deviation between labs beyond what their standard errors explain */
  lab_sd: number;
  /** of a mount in another lab: both together */
  reproducibility_sd: number | null;
  /** chance of labs as far apart where they agree, by the largest difference of two; adjusted for their number (Bonferroni) */
  p: number;
}

const SHARE = 0.95;

/**
 * Repeatability and reproducibility of a material's lead that two labs or more measured, with each lab's consistency. The labs may have made
 * different numbers of mounts: what lies between them is told by Mandel & Paule's equation, which weighs each by its own standard error.
 * @throws Error with fewer than two labs
 * Source: ISO 5725-2:2019, §7 and 8 (repeatability, reproducibility, h and k); Paule & Mandel (1982), Journal of Research of the National
 * Bureau of Standards 87, 377–385.
 */
export function betweenLabs(leads: LabLead[]): BetweenLabs {
  if (leads.length < 2) throw new Error('Two labs are needed to compare labs.');
  const p = leads.length;
  const df = leads.reduce((sum, l) => sum + l.df, 0);
  const squares = leads.reduce((sum, l) => sum + l.squares, 0);
  const repeatability = df > 0 && squares > 0 ? Math.sqrt(squares / df) : null;
  const between = pauleMandel(leads);
  const mean = leads.reduce((sum, l) => sum + l.lead, 0) / p;
  const sd = Math.sqrt(leads.reduce((sum, l) => sum + (l.lead - mean) ** 2, 0) / (p - 1));
  return {
    repeatability_sd: repeatability,
    lab_sd: Math.sqrt(between),
    reproducibility_sd: repeatability === null ? null : Math.sqrt(between + repeatability ** 2),
    p: farthestApart(leads),
    labs: leads.map((l) => {
      const h = p > 2 && sd > 0 ? (l.lead - mean) / sd : null;
      const k = l.df > 0 && repeatability !== null ? Math.sqrt(l.squares / l.df) / repeatability : null;
      return {
        ...{ ...l, h, k },
        h_stands_out: h !== null && Math.abs(h) > mostH(p),
        k_stands_out: scattersMore(l, squares, df),
      };
    }),
  };
}

/** Mandel's h that one lab of p exceeds in one of twenty: ISO 5725-2, annex. */
function mostH(p: number): number {
  const t = tQuantile((1 + SHARE) / 2, p - 2);
  return ((p - 1) * t) / Math.sqrt(p * (t ** 2 + p - 2));
}

/** Does a lab scatter more than all others together, as one in twenty does by chance? Mandel's k at its limit is this test. */
function scattersMore(own: LabLead, squares: number, df: number): boolean {
  const others = { squares: squares - own.squares, df: df - own.df };
  if (own.df < 1 || others.df < 1 || !(others.squares > 0)) return false;
  return fUpperTail(own.squares / own.df / (others.squares / others.df), own.df, others.df) < 1 - SHARE;
}

/** Variance between labs at which the weighted squares around the mean are as many as there are degrees of freedom; 0 where fewer are. */
function pauleMandel(leads: LabLead[]): number {
  const excess = (between: number) => {
    const weights = leads.map((l) => 1 / (l.se ** 2 + between));
    const total = weights.reduce((a, b) => a + b, 0);
    const mean = leads.reduce((sum, l, i) => sum + weights[i] * l.lead, 0) / total;
    return leads.reduce((sum, l, i) => sum + weights[i] * (l.lead - mean) ** 2, 0) - (leads.length - 1);
  };
  if (excess(0) <= 0) return 0;
  let low = 0;
  let high = Math.max(...leads.map((l) => l.se ** 2));
  while (excess(high) > 0) high *= 2;
  for (let i = 0; i < 200 && high - low > 1e-12 * high; i++) {
    const middle = (low + high) / 2;
    if (excess(middle) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

function farthestApart(leads: LabLead[]): number {
  const pairs = (leads.length * (leads.length - 1)) / 2;
  let least = 1;
  for (const [i, a] of leads.entries())
    for (const b of leads.slice(i + 1)) {
      const t = (a.lead - b.lead) / Math.hypot(a.se, b.se);
      least = Math.min(least, tTwoSided(t, Math.max(1, a.df + b.df)));
    }
  return Math.min(1, pairs * least);
}
