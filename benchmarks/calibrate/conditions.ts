import type { AnalysisRow } from '#core/compare/rows';
import type { AnalysisOptions } from '#core/compare/types';
import type { Random } from '#core/stats/random';

/** A specimen as it truly is. */
export interface Truth {
  specimen: string;
  rise_k: number;
  mount_sd: number;
  mounts: number;
}

/** One kind of study whose error rates are measured. */
export interface Condition {
  key: string;
  /** what is so in it, for the table */
  says: string;
  specimens: Truth[];
  runs: number;
  run_sd: number;
  /** shift common to all mounts of a bench day, K; mount m falls on day m */
  day_sd?: number;
  /** share of mounts that are odd, and by how much, K */
  odd?: { share: number; by_k: number };
  /** runs at or above throttle: no value, a lower bound */
  limit_rise_k?: number;
  /** specimens missing on some days, by specimen and day */
  missing?: (specimen: number, day: number) => boolean;
  options?: Partial<AnalysisOptions>;
  /** looks as numbers of mounts, planned ones with their spent error, or such that mounts are added until something shows */
  looks?: { at: number[]; planned: boolean };
  /** specimens of several kinds, whose mounts may be expected to scatter unequally; default false */
  kinds_differ?: boolean;
}

const RUN_SD = 0.15;
const SD = 0.5;
const alike = (k: number, mounts: number, sd: number | number[] = SD, step = 0): Truth[] =>
  Array.from({ length: k }, (_, i) => ({
    specimen: `S${i + 1}`,
    rise_k: 40 + step * i,
    mount_sd: Array.isArray(sd) ? sd[i % sd.length] : sd,
    mounts,
  }));
/** the stated scatters of phase change, paste, pad and liquid metal */
const KINDS = [0.3, 0.5, 0.8, 1.0];
const base = { runs: 3, run_sd: RUN_SD };

/** Studies from run values. Odd mounts are kept, as by default. */
export const CONDITIONS: Condition[] = [
  { key: 'equal_5', says: 'nothing differs, 4 specimens × 5 mounts, equal scatter', specimens: alike(4, 5), ...base },
  { key: 'equal_3', says: 'nothing differs, 4 × 3 mounts, equal scatter', specimens: alike(4, 3), ...base },
  {
    key: 'pair_5',
    says: 'nothing differs, 2 × 5 mounts, scatter 0.3 and 1.0 K',
    specimens: alike(2, 5, [0.3, 1]),
    ...base,
    kinds_differ: true,
  },
  { key: 'equal_2', says: 'nothing differs, 4 × 2 mounts, equal scatter', specimens: alike(4, 2), ...base },
  { key: 'eight_5', says: 'nothing differs, 8 × 5 mounts, equal scatter', specimens: alike(8, 5), ...base },
  {
    key: 'kinds_8',
    says: 'nothing differs, 8 × 5 mounts, scatter 0.3, 0.5, 0.8 and 1.0 K',
    specimens: alike(8, 5, KINDS),
    ...base,
    kinds_differ: true,
  },
  {
    key: 'unequal_10',
    says: 'nothing differs, 4 × 10 mounts, scatter 0.3, 0.5, 0.8 and 1.0 K',
    specimens: alike(4, 10, KINDS),
    ...base,
    kinds_differ: true,
  },
  {
    key: 'unequal_5',
    says: 'nothing differs, 4 × 5 mounts, scatter 0.3, 0.5, 0.8 and 1.0 K',
    specimens: alike(4, 5, KINDS),
    ...base,
    kinds_differ: true,
  },
  {
    key: 'unequal_3',
    says: 'nothing differs, 4 × 3 mounts, scatter 0.3, 0.5, 0.8 and 1.0 K',
    specimens: alike(4, 3, KINDS),
    ...base,
    kinds_differ: true,
  },
  {
    key: 'lost',
    says: 'nothing differs, 5, 6, 6 and 6 mounts, the widest scatter where one was lost',
    specimens: alike(4, 6, [1, 0.3, 0.5, 0.8]).map((s, i) => (i === 0 ? { ...s, mounts: 5 } : s)),
    ...base,
    kinds_differ: true,
  },
  {
    key: 'unbalanced',
    says: 'nothing differs, 4, 8, 5 and 10 mounts, the widest scatter with the fewest mounts: beyond what is claimed',
    specimens: alike(4, 5, [1, 0.3, 0.8, 0.3]).map((s, i) => ({ ...s, mounts: [4, 8, 5, 10][i] })),
    ...base,
    kinds_differ: true,
  },
  {
    key: 'reference',
    says: 'nothing differs, 5 against the reference, 5 mounts',
    specimens: alike(6, 5),
    ...base,
    options: { family: 'reference' },
  },
  {
    key: 'days_blocked',
    says: 'nothing differs, 4 × 5 mounts, days differ by 0.7 K, blocked by day',
    specimens: alike(4, 5),
    ...base,
    day_sd: 0.7,
    options: { block: 'day' },
  },
  {
    key: 'days_incomplete',
    says: 'nothing differs, days differ by 0.7 K, a quarter of the mounts not made, blocked by day',
    specimens: alike(4, 6),
    ...base,
    day_sd: 0.7,
    missing: (s, d) => (s + d) % 4 === 0,
    options: { block: 'day' },
  },
  {
    key: 'days_unblocked',
    says: 'nothing differs, 4 × 5 mounts, days differ by 0.7 K, every specimen each day, not blocked',
    specimens: alike(4, 5),
    ...base,
    day_sd: 0.7,
  },
  {
    key: 'odd',
    says: 'nothing differs, 4 × 5 mounts, one mount in twenty 3 K too warm, kept',
    specimens: alike(4, 5),
    ...base,
    odd: { share: 0.05, by_k: 3 },
  },
  {
    key: 'throttled',
    says: 'two specimens 5 K warmer, which throttle in about half of their mounts, 5 mounts',
    specimens: alike(4, 5).map((s, i) => (i > 1 ? { ...s, rise_k: 45 } : s)),
    ...base,
    limit_rise_k: 45,
  },
  {
    key: 'one_mount',
    says: 'nothing differs, 3 × 1 mount, the scatter assumed is the true one',
    specimens: alike(3, 1),
    ...base,
    options: { default_mount_sd: Math.hypot(SD, RUN_SD / Math.sqrt(3)) },
  },
  {
    key: 'before_after',
    says: 'nothing differs, one state with 3 runs that cannot be remounted, and one with 5 mounts',
    specimens: [
      { specimen: 'S1', rise_k: 40, mount_sd: 0, mounts: 1 },
      { specimen: 'S2', rise_k: 40, mount_sd: SD, mounts: 5 },
    ],
    ...base,
    options: { fixed_states: ['S1'] },
  },
  { key: 'apart', says: 'specimens 0.9 K apart, 4 × 5 mounts, margin 1 K', specimens: alike(4, 5, SD, 0.9), ...base },
  {
    key: 'at_margin',
    says: 'two specimens exactly the margin of 1 K apart, 2 × 10 mounts',
    specimens: alike(2, 10, 0.4, 1),
    ...base,
  },
  {
    key: 'looks_planned',
    says: 'nothing differs, looks planned after 3 and 5 of 8 mounts',
    specimens: alike(4, 8),
    ...base,
    looks: { at: [3, 5, 8], planned: true },
  },
  {
    key: 'looks_added',
    says: 'nothing differs, mounts added one by one from 3 to 10 until something shows',
    specimens: alike(4, 10),
    ...base,
    looks: { at: [3, 4, 5, 6, 7, 8, 9, 10], planned: false },
  },
];

/** Pairs for the power: two specimens, five mounts each, apart by so many margins of 1 K. */
export const POWERS: Condition[] = [1, 2, 3].flatMap((times) =>
  (['two', 'four'] as const).map((kind) => ({
    key: `power_${kind}_${times}`,
    says: `${kind === 'two' ? '2' : '4'} specimens × 5 mounts, the last ${times} δ warmer`,
    specimens: alike(kind === 'two' ? 2 : 4, 5).map((s, i, all) => (i === all.length - 1 ? { ...s, rise_k: 40 + times } : s)),
    ...base,
  })),
);

/** Draws the run values of one study; a run at or above the limit has a lower bound only. */
export function drawStudy(c: Condition, random: Random): AnalysisRow[] {
  const most = Math.max(...c.specimens.map((s) => s.mounts));
  const days = Array.from({ length: most }, () => (c.day_sd ? c.day_sd * random.normal() : 0));
  const rows: AnalysisRow[] = [];
  c.specimens.forEach((s, i) => {
    for (let m = 1; m <= s.mounts; m++) {
      const odd = c.odd && random.uniform() < c.odd.share ? c.odd.by_k : 0;
      const mount = s.rise_k + s.mount_sd * random.normal() + days[m - 1] + odd;
      if (c.missing?.(i, m)) continue;
      for (let r = 1; r <= c.runs; r++) {
        const value = mount + c.run_sd * random.normal();
        const censored = c.limit_rise_k !== undefined && value >= c.limit_rise_k;
        rows.push({ specimen: s.specimen, mount: String(m), run: String(r), value, day: `D${m}`, valid: !censored, censored });
      }
    }
  });
  return rows;
}
