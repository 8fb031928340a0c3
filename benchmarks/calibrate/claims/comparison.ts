import { analyse } from '#core/compare/analyse';
import { logRank } from '#core/compare/timeToEvent';
import { type RehearsalPlan, Rehearser } from '#core/design/rehearse';
import { mean } from '#core/stats/moments';
import { seededRandom } from '#core/stats/random';
import { differenceBudget } from '#core/stats/uncertainty/riseBudget';
import { fitBondLine } from '#core/thermal/conductivity/bondLine';
import { studyChoice } from '#features/results/model/choice';
import { interactions } from '#features/results/model/interactions';
import { runFact, studyFacts } from '../../../tests/studyFacts';
import { CAREFUL, type Case, type Claim, HOLDS, NOTHING, said, within } from './types';

/** Conductivity over shims of five thicknesses: slope and contact. */
function conductivity({ even = 0, share = 0, repeats = 1, repeat = 0, u = 0 }): Claim['run'] {
  const area_mm2 = 1369;
  const [k, contact] = [4, 12];
  return (seed) => {
    const random = seededRandom(seed);
    const series = [0.1, 0.15, 0.2, 0.3, 0.4].flatMap((thickness_mm) => {
      const rest = 1000 * ((thickness_mm + u * random.normal()) / k) + contact;
      const shim = rest * (1 + share * random.normal()) + even * random.normal();
      return Array.from({ length: repeats }, () => ({ thickness_mm, k_per_w: (shim + repeat * random.normal()) / area_mm2 }));
    });
    const fit = fitBondLine(series, area_mm2, { confidence: 0.95, thickness_u_mm: u });
    if (!fit.ok || !fit.k_ci || !fit.contact_ci) return NOTHING;
    const held = [within([fit.k_ci[0], fit.k_ci[1] ?? Number.POSITIVE_INFINITY], k), within(fit.contact_ci, contact)];
    return { said: 2, held: held.filter((h) => h).length, declined: false };
  };
}

/** Nothing differs: how often the log-rank test tells nothing. */
function events(mounts: number): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const group = () =>
      Array.from({ length: mounts }, () => {
        const s = -600 * Math.log(random.uniform());
        return { s: Math.min(900, s), reached: s < 900 };
      });
    const { p } = logRank(group(), group());
    return p === null ? NOTHING : said(p >= 0.05);
  };
}

/** A rise difference on two rigs whose probes are off, every specimen on both, against what its budget allows. */
function budget(seed: number): Case {
  const random = seededRandom(seed);
  const off = [0, 1].map(() => 0.5 * (2 * random.uniform() - 1));
  const mounts = (rise: number) => off.flatMap((o) => [1, 2].map(() => rise + o + 0.3 * random.normal()));
  const groups = { A: mounts(41), B: mounts(40) };
  const rows = Object.entries(groups).flatMap(([specimen, values]) =>
    values.map((value, i) => ({ specimen, mount: String(i + 1), value, rig: i < 2 ? 'North' : 'South' })),
  );
  const [pair] = analyse(rows, { chances: false, outlook: false, scatter: 'pooled', block: 'rig' }).pairs;
  if (pair.df === null) return NOTHING;
  const instruments = [{ name: 'probe', reads: 'sensor' as const, accuracy_k: 0.5, resolution_k: null }];
  const { expanded } = differenceBudget({ se: pair.se, df: pair.df }, instruments, true, 0.95);
  return said(Math.abs(pair.difference - (pair.a === 'A' ? 1 : -1)) <= expanded);
}

/** Seven specimens that do not differ, over rigs or loads: held where no difference of differences is told. */
function differences(rigs: number, loads: number): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const runs = ['R', 'A', 'B', 'C', 'D', 'E', 'F'].flatMap((s) =>
      Array.from({ length: 3 * rigs }, (_m, m) => {
        const mount = 40 + 0.5 * random.normal();
        const rig = `Rig ${m % rigs}`;
        return Array.from({ length: loads }, (_l, l) =>
          runFact(s, m + 1, mount + 10 * l + 0.3 * random.normal(), { rig, load: loads > 1 ? `Load ${l}` : null }),
        );
      }).flat(),
    );
    const study = studyFacts(runs, { loads: loads > 1 ? Array.from({ length: loads }, (_, l) => `Load ${l}`) : [], family: 'reference' });
    return said(!interactions(study, studyChoice(study)).some((i) => i.ci[0] > 0 || i.ci[1] < 0));
  };
}

/** The best chance of a study whose true means lie anywhere: between `from` and `to`, is it right as often? */
function chances(from: number, to: number): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const truth = [0, 1, 2].map(() => 40 + 2 * random.normal());
    const rows = truth.flatMap((t, s) =>
      Array.from({ length: 4 }, (_, m) => ({ specimen: `S${s}`, mount: String(m), value: t + random.normal() })),
    );
    const specimens = analyse(rows, { scatter: 'pooled', outlook: false }).specimens;
    const best = specimens.reduce((a, b) => ((b.chance_coolest ?? 0) > (a.chance_coolest ?? 0) ? b : a));
    const chance = best.chance_coolest ?? 0;
    if (chance < from || chance >= to) return { said: 0, held: 0, declined: false };
    return said(truth[Number(best.specimen.slice(1))] === Math.min(...truth));
  };
}

/** So many more mounts, drawn about what was measured: settled? */
function moreMounts(seed: number): Case {
  const random = seededRandom(seed);
  const groups = [40, 40 + 1.2 * random.uniform()].map((t) => Array.from({ length: 4 }, () => t + 0.6 * random.normal()));
  const rowsOf = (g: number[][]) => g.flatMap((values, s) => values.map((value, m) => ({ specimen: `S${s}`, mount: String(m), value })));
  const judge = (g: number[][]) => analyse(rowsOf(g), { margin: 1, scatter: 'pooled', chances: false }).pairs[0];
  const pair = judge(groups);
  if (pair.verdict !== 'unresolved' || pair.more_mounts === null) return { said: 0, held: 0, declined: false };
  const { more_mounts } = pair;
  const sd = Math.sqrt(groups.reduce((sum, g) => sum + g.reduce((s, v) => s + (v - mean(g)) ** 2, 0), 0) / 6);
  const grown = groups.map((g) => [...g, ...Array.from({ length: more_mounts }, () => mean(g) + sd * random.normal())]);
  return said(judge(grown).verdict !== 'unresolved');
}

const PLAN: RehearsalPlan = {
  ...{ runs: 2, mount_sd: 0.5, run_sd: 0.15, margin: 1, confidence: 0.95, family: 'all', scatter: 'pooled' },
  ...{ day_sd: 1.5, block: 'day', rigs: 1, failure: 0, limit_rise_k: null, looks: [], mount_min: 25, run_min: 40 },
  specimens: [0, 1, 2, 3].map((i) => ({ specimen: `S${i}`, rise_k: 40 + 1.6 * i, mounts: 4 })),
};
/** What the rehearsal of that plan foretells, ± 4 points, percent. */
function foretold(): [number, number] {
  const rehearsal = new Rehearser(PLAN, 5);
  rehearsal.step(400);
  const percent = Math.round(1000 * rehearsal.result().correct) / 10;
  return [percent - 4, percent + 4];
}

/** A study drawn by hand on days that shift: how many of its verdicts are right? */
function rehearsed(seed: number): Case {
  const random = seededRandom(seed);
  const days = [0, 1, 2, 3].map(() => PLAN.day_sd * random.normal());
  const rows = PLAN.specimens.flatMap(({ specimen, rise_k }) =>
    days.flatMap((shift, m) => {
      const mounted = rise_k + shift + PLAN.mount_sd * random.normal();
      return [1, 2].map((r) => ({
        specimen,
        mount: String(m),
        run: String(r),
        day: `2026-06-0${m + 1}`,
        value: mounted + PLAN.run_sd * random.normal(),
      }));
    }),
  );
  const { pairs } = analyse(rows, { margin: PLAN.margin, scatter: 'pooled', block: 'day', chances: false, outlook: false });
  const right = pairs.filter(
    (p) => p.verdict === 'cooler' || p.verdict === 'warmer' || p.verdict === 'cooler_within_margin' || p.verdict === 'warmer_within_margin',
  );
  return { said: pairs.length, held: right.length, declined: false };
}

const UP_TO_FIVE: [number, number] = [95, 100];
export const COMPARISON: Claim[] = [
  ...(
    [
      ['even scatter', { even: 4 }],
      ['scatter that grows with the resistance', { share: 0.08 }],
      ['three repeats on each shim', { even: 4, repeats: 3, repeat: 1 }],
      ['thicknesses known to 0.02 mm', { even: 2, u: 0.02 }],
    ] as const
  ).map(
    ([condition, given]): Claim => ({
      ...{ subject: 'conductivity', claim: 'conductivity and contact: 95 % intervals, careful', condition, promised: CAREFUL, cases: 600 },
      ...{ clean: condition === 'even scatter', run: conductivity(given) },
    }),
  ),
  ...[4, 8].map(
    (mounts): Claim => ({
      ...{
        subject: 'events',
        claim: 'nothing differs: no difference told by the log-rank test',
        condition: `${mounts} mounts each, a quarter ended without the event`,
      },
      ...{ promised: UP_TO_FIVE, cases: 1000, run: events(mounts) },
    }),
  ),
  {
    ...{
      subject: 'budget',
      claim: 'difference: within the expanded uncertainty, 95 %',
      condition: 'two rigs whose probes are up to 0.5 K off, every specimen on both',
    },
    ...{ promised: HOLDS, cases: 1000, clean: true, run: budget },
  },
  ...(
    [
      ['two rigs', 2, 1],
      ['three rigs', 3, 1],
      ['three loads', 1, 3],
    ] as const
  ).map(
    ([condition, rigs, loads]): Claim => ({
      ...{ subject: 'differences', claim: 'nothing differs: no difference of differences told', condition: `7 specimens, ${condition}` },
      ...{ promised: UP_TO_FIVE, cases: 400, run: differences(rigs, loads) },
    }),
  ),
  ...(
    [
      [0.5, 0.7],
      [0.7, 0.9],
      [0.9, 0.99],
    ] as const
  ).map(
    ([from, to]): Claim => ({
      ...{
        subject: 'chances',
        claim: 'the likeliest to be coolest is the coolest',
        condition: `told ${100 * from} to ${100 * to} %, 3 specimens × 4 mounts`,
      },
      ...{ promised: [100 * from, 100 * to], cases: 1500, run: chances(from, to) },
    }),
  ),
  {
    ...{
      subject: 'mounts',
      claim: 'so many more mounts settle it, 80 %',
      condition: '4 mounts each, drawn about what was measured',
      promised: [80, 92],
      cases: 800,
    },
    run: moreMounts,
  },
  {
    ...{
      subject: 'rehearsal',
      claim: 'right verdicts, as foretold',
      condition: '4 specimens × 4 mounts on days that shift by 1.5 K, days as blocks',
    },
    ...{ promised: foretold, cases: 400, run: rehearsed },
  },
];
