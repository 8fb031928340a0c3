import { describe, expect, it } from 'vitest';
import { expectWithin, vectors } from '../../../tests/vectors.ts';
import { blockEffect, blockMeans, fitBlocks } from './blockModel';
import { blockFamily } from './families';
import { compactLetters } from './letters';
import { studentizedMounts } from './oddMounts';
import { anova, fitOneWay, specimenMeans } from './oneWay';
import { gamesHowell, pairsOf, tukeyKramer } from './rangeTests';
import { dunnett, welchHolm } from './referenceTests';
import { brownForsythe, varianceComponents } from './scatter';
import type { MountValue } from './types';

interface OneWayExpected {
  pooled: { specimens: { ci95: [number, number] }[] };
  separate: { specimens: { ci95: [number, number] }[] };
  tukey_kramer: unknown[];
  games_howell: unknown[];
  dunnett: { specimen: string; p_adjusted: number; ci95: [number, number] }[];
  welch_holm: unknown[];
  brown_forsythe: unknown;
  studentized: unknown;
}

const renameInterval = <T extends { ci: unknown }>({ ci, ...rest }: T) => ({ ...rest, ci95: ci });

describe('one-way comparison against values from other software', () => {
  const file = vectors<{ rows: MountValue[] }, OneWayExpected>('oneway');
  it.each(file.cases)('$name', ({ input, expected }) => {
    const fit = fitOneWay(input.rows);
    const check = (got: unknown, part: keyof OneWayExpected) => expectWithin(got, expected[part], file.tolerance, [part]);
    check({ sd: fit.sd, df: fit.df, specimens: specimenMeans(fit, 'pooled', 0.95).map(renameInterval) }, 'pooled');
    check({ specimens: specimenMeans(fit, 'separate', 0.95).map(renameInterval) }, 'separate');
    check(tukeyKramer(fit, 0.95).map(renameInterval), 'tukey_kramer');
    check(
      gamesHowell(fit, 0.95).map((p) => p && renameInterval(p)),
      'games_howell',
    );
    const against = dunnett(fit, fit.groups[0], 0.95).map(({ a, ...p }) => ({ ...renameInterval(p), specimen: a }));
    check(against, 'dunnett');
    // the stated tolerance allows for a random quadrature; ours is held to far less, as the values are good to 1e-8
    expectWithin(against, expected.dunnett, {
      '*': { absolute: 1e-9 },
      p_adjusted: { absolute: 1e-7 },
      ci95: { absolute: 1e-9, of_half_width: 1e-6 },
    });
    const holm = welchHolm(pairsOf(fit.groups), 0.95);
    check(
      holm.map((p) => p && { ...p, p_holm: p.p_adjusted }),
      'welch_holm',
    );
    for (const p of holm) if (p) expect(p.ci[0] > 0 || p.ci[1] < 0).toBe(p.p_adjusted < 0.05);
    check(brownForsythe(fit), 'brown_forsythe');
    check({ df: fit.df - 1, mounts: studentizedMounts(fit) }, 'studentized');
  });
});

describe('analysis of variance on stiff data', () => {
  const file = vectors<{ rows: { group?: string; specimen?: string; value: number }[] }, Record<string, number>>('anova_nist');
  it.each(file.cases)('$name', ({ input, expected }) => {
    const rows = input.rows.map((r, i) => ({ specimen: String(r.group ?? r.specimen), mount: String(i), value: r.value }));
    expectWithin(anova(fitOneWay(rows)), expected, file.tolerance);
  });
});

describe('variance components against REML of other software', () => {
  const file = vectors<{ rows: MountValue[] }, Record<string, unknown>>('nested');
  it.each(file.cases)('$name', ({ input, expected }) => {
    expectWithin(varianceComponents(input.rows), expected, file.tolerance);
  });
});

describe('compact letters', () => {
  const file = vectors<{ specimens: { specimen: string; mean: number }[]; significant_pairs: { a: string; b: string }[] }, unknown>(
    'groups',
  );
  it.each(file.cases)('$name: shared letters exactly where not significant, none redundant', ({ input }) => {
    const ordered = [...input.specimens].sort((p, q) => p.mean - q.mean).map((s) => s.specimen);
    const significant = input.significant_pairs.map((p): [string, string] => [p.a, p.b]);
    const letters = compactLetters(ordered, significant);
    expect(brokenRule(ordered, significant, letters)).toBeNull();
    expect(letters.get(ordered[0])?.startsWith('a')).toBe(true);
    for (const letter of new Set([...letters.values()].join(''))) {
      const without = new Map([...letters].map(([name, l]) => [name, l.replace(letter, '')]));
      expect(brokenRule(ordered, significant, without), `letter ${letter} is redundant`).not.toBeNull();
    }
  });

  it('names letters in the order of first appearance from the coolest up', () => {
    const letters = compactLetters(
      ['A', 'B', 'C', 'D'],
      [
        ['A', 'C'],
        ['A', 'D'],
        ['B', 'D'],
      ],
    );
    expect([...letters.values()]).toEqual(['a', 'ab', 'bc', 'c']);
  });
});

function brokenRule(names: string[], significant: [string, string][], letters: Map<string, string>): string | null {
  const differs = new Set(significant.flatMap(([a, b]) => [`${a} ${b}`, `${b} ${a}`]));
  for (const a of names) {
    if (!letters.get(a)) return `${a} has no letter`;
    for (const b of names) {
      if (a === b) continue;
      const share = [...(letters.get(a) ?? '')].some((l) => letters.get(b)?.includes(l));
      if (share === differs.has(`${a} ${b}`)) return `${a} and ${b}`;
    }
  }
  return null;
}

describe('days as blocks against values from other software', () => {
  const file = vectors<{ rows: (MountValue & { day: string })[] }, unknown>('block');
  it.each(file.cases)('$name', ({ input, expected }) => {
    const rows = input.rows.map((r) => ({ ...r, block: r.day }));
    const fit = fitBlocks(rows);
    const family = blockFamily(fit, rows, rows[0].specimen, { family: 'all', confidence: 0.95 });
    const got = {
      residual_sd: fit.sd,
      df: fit.df,
      specimens: blockMeans(fit, 0.95).map(renameInterval),
      pairs: family.pooled.map((p) => p && renameInterval(p)),
      day_effect: blockEffect(fit),
    };
    expectWithin(got, expected, file.tolerance);
  });
});
