import { tTwoSided } from '#core/stats/distributions/t';
import type { BlockFit } from './blockModel';
import type { Model } from './model';
import type { OneWayFit } from './oneWay';
import type { Analysis, Finding, MountValue } from './types';

interface StudentizedMount {
  specimen: string;
  mount: string;
  /** externally studentised residual; null where the mount alone carries its specimen */
  value: number | null;
  p: number | null;
  p_bonferroni: number | null;
}

/**
 * Externally studentised residual of each mount in the one-way model: how far it lies from its specimen, in units of the
 * scatter of all the others, in the order of the rows given; p two-sided on df − 1, times the number of mounts (Cook & Weisberg 1982,
 * §2.2.2).
 */
export function studentizedMounts(fit: OneWayFit): StudentizedMount[] {
  const count = fit.groups.reduce((n, g) => n + g.n, 0);
  const df = fit.df - 1;
  const inRowOrder = new Array<StudentizedMount>(count);
  for (const g of fit.groups) {
    g.values.forEach((v, i) => {
      const value = g.n < 2 || df < 1 ? null : studentize(v - fit.origin - g.offset, 1 - 1 / g.n, fit.ss_within, df);
      const p = value === null ? null : tTwoSided(value, df);
      const adjusted = p === null ? null : Math.min(1, count * p);
      inRowOrder[g.rows[i]] = { specimen: g.specimen, mount: g.mounts[i], value, p, p_bonferroni: adjusted };
    });
  }
  return inRowOrder;
}

/** @param free 1 − leverage; null where the other mounts do not scatter at all */
function studentize(residual: number, free: number, ssWithin: number, df: number): number | null {
  const others = (ssWithin - (residual * residual) / free) / df;
  return others > 1e-12 * ssWithin ? residual / Math.sqrt(others * free) : null;
}

/** The same about an additive model of specimens and blocks: each mount against what its specimen and its block let expect. */
function studentizedInBlocks(fit: BlockFit, rows: MountValue[]): StudentizedMount[] {
  const df = fit.df - 1;
  return rows.map((r, i) => {
    const { residual, leverage } = fit.rows[i];
    const value = df < 1 || leverage > 1 - 1e-9 ? null : studentize(residual, 1 - leverage, fit.rss, df);
    const p = value === null ? null : tTwoSided(value, df);
    return { specimen: r.specimen, mount: r.mount, value, p, p_bonferroni: p === null ? null : Math.min(1, rows.length * p) };
  });
}

/** The mounts that lie too far from their specimen's others, each told as a finding; none is left out. */
export function oddMounts({ fit, blocks }: Model, findings: Finding[]): Analysis['odd_mounts'] {
  const mounts = blocks ? studentizedInBlocks(blocks.fit, blocks.rows) : studentizedMounts(fit);
  const odd = mounts.flatMap((m) =>
    m.value !== null && m.p_bonferroni !== null && m.p_bonferroni < 0.05
      ? [{ specimen: m.specimen, mount: m.mount, studentized: m.value, p_bonferroni: m.p_bonferroni }]
      : [],
  );
  for (const m of odd) {
    findings.push({
      code: 'odd_mount',
      severity: 'warn',
      message: `Mount ${m.mount} of ${m.specimen} lies far ${m.studentized > 0 ? 'above' : 'below'} its specimen's other mounts (studentised ${m.studentized.toFixed(1)}). It is kept; check it before you trust or exclude it.`,
      numbers: { studentized: m.studentized, p_bonferroni: m.p_bonferroni },
    });
  }
  return odd;
}
