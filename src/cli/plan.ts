import type { Command } from 'commander';
import type { ScatterSchool } from '#core/compare/types';
import { curvePoint, mountsForMargin } from '#core/design/mountsCurve';
import { drawOrder } from '#core/design/order';
import { dayTooShort, orderFindings } from '#core/design/orderFindings';
import type { OrderPlan } from '#core/design/orderTypes';
import { comparisonFindings } from '#core/design/planFindings';
import { rehearse } from '#core/design/rehearse';
import type { PlannedComparison } from '#core/design/types';
import { write } from '#core/text/words';
import { number, oneOf, pairs, UsageError, whole } from './options';

interface PlanFlags extends Pick<PlannedComparison, 'specimens' | 'runs' | 'margin' | 'power' | 'confidence' | 'family'> {
  json?: boolean;
  mounts: number;
  mountSd: number;
  runSd: number;
  scatter: ScatterSchool | 'auto';
  seed: number;
  rehearse?: number;
  true?: Record<string, number>;
  rigs: number;
  dayHours: number;
  mountMin: number;
  runMin: number;
  last: string[];
  bracket?: boolean;
  wait: Record<string, number>;
  coupons: Record<string, number>;
}

export function addPlan(program: Command): void {
  program
    .command('plan')
    .description('mounts needed, detectable difference, order of the days, rehearsal')
    .option('--json', 'print the plan as JSON')
    .option('--specimens <N>', 'specimens S1, S2, …; S1 is the reference', whole(2, 60), 8)
    .option('--mounts <N>', 'mounts of each', whole(2, 200), 5)
    .option('--runs <N>', 'runs on each mount', whole(1, 50), 3)
    .option('--mount-sd <K>', 'standard deviation between mounts', number(0.001, 100), 0.5)
    .option('--run-sd <K>', 'standard deviation between runs on one mount', number(0, 100), 0.15)
    .option('--margin <K>', 'smallest difference that matters', number(0.001, 1000), 1)
    .option('--power <SHARE>', 'power: wanted chance of finding a difference', number(0.5, 0.999), 0.8)
    .option('--confidence <SHARE>', 'confidence of the verdicts', number(0.5, 0.9999), 0.95)
    .option('--family <family>', 'all or reference', oneOf(['all', 'reference'] as const), 'all')
    .option('--scatter <school>', 'pooled, separate or auto', oneOf(['pooled', 'separate', 'auto'] as const), 'auto')
    .option('--seed <N>', 'seed of the order and the rehearsal', whole(0, 4_294_967_295), 1)
    .option('--rehearse <N>', 'number of rehearsals', whole(1, 100_000))
    .option(
      '--true <NAME=K>',
      'expected ΔT of a specimen against the reference for the rehearsal, repeatable; default 0',
      pairs(number(-1000, 1000)),
    )
    .option('--rigs <N>', 'rigs', whole(1, 20), 1)
    .option('--day-hours <H>', 'working hours of a bench day', number(0.1, 24), 8)
    .option('--mount-min <MIN>', 'hands-on minutes of one mount', number(0, 1440), 25)
    .option('--run-min <MIN>', 'minutes of one run with its cool-down', number(1, 1440), 40)
    .option('--last <NAME>', 'specimen that contaminates or is permanent, repeatable', (text: string, all: string[]) => [...all, text], [])
    .option('--bracket', 'extra mounts of the reference open and close each day')
    .option('--wait <NAME=HOURS>', 'conditioning or cure of each mount of a specimen, repeatable', pairs(number(0, 2000)), {})
    .option('--coupons <NAME=N>', 'mounts that the stock or coupons of a specimen allow, repeatable', pairs(whole(0, 10_000)), {})
    .action((flags: PlanFlags) => {
      const result = planStudy(flags);
      process.stdout.write(flags.json ? `${JSON.stringify(result)}\n` : describe(result, flags));
    });
}

/** Turns flags into a plan and its answer, field by field. */
function planStudy(flags: PlanFlags) {
  const names = Array.from({ length: flags.specimens }, (_, i) => `S${i + 1}`);
  for (const [option, used] of Object.entries({
    last: flags.last,
    wait: Object.keys(flags.wait),
    coupons: Object.keys(flags.coupons),
    true: Object.keys(flags.true ?? {}),
  })) {
    const unknown = used.find((n) => !names.includes(n));
    if (unknown !== undefined)
      throw new UsageError(`--${option} ${unknown}: there is no such specimen; they are S1 to S${flags.specimens}.`);
  }
  const comparison: PlannedComparison = {
    ...{ specimens: flags.specimens, runs: flags.runs, mount_sd: flags.mountSd, run_sd: flags.runSd },
    ...{ margin: flags.margin, confidence: flags.confidence, family: flags.family, scatter: flags.scatter },
    power: flags.power,
  };
  const point = curvePoint(comparison, flags.mounts);
  const mountsOf = (n: string) => Math.min(flags.mounts, flags.coupons[n] ?? flags.mounts);
  const order: OrderPlan = {
    specimens: names.map((n) => ({ specimen: n, mounts: mountsOf(n), wait_min: 60 * (flags.wait[n] ?? 0), last: flags.last.includes(n) })),
    reference: 'S1',
    bracket: flags.bracket === true,
    runs: flags.runs,
    mount_min: flags.mountMin,
    run_min: flags.runMin,
    day_min: 60 * flags.dayHours,
    rigs: Array.from({ length: flags.rigs }, (_, i) => `R${i + 1}`),
    day_starts_min: [],
    days: null,
  };
  const drawn = drawOrder(order, flags.seed);
  const short = drawn ? null : dayTooShort(order);
  return {
    detectable_k: point.detectable_k,
    mounts_needed: mountsForMargin(comparison)?.n ?? null,
    equivalence_power: point.equivalence_power,
    school: point.school,
    order:
      drawn?.mounts.map(({ day, slot, specimen, mount, rig, extra, start_min, end_min, runs_day }) => ({
        ...{ day, slot, specimen, mount, rig, extra, start_min, end_min, runs_day },
      })) ?? [],
    hours: drawn?.hours ?? null,
    days: drawn?.days ?? null,
    rehearsal: flags.rehearse === undefined ? null : rehearsal(flags, comparison, names, mountsOf),
    findings: [
      ...comparisonFindings(comparison, flags.mounts),
      ...(short ? [short] : []),
      ...stockFindings(flags, names),
      ...(drawn ? orderFindings(order, drawn.mounts) : []),
    ],
  };
}

/** The plan rehearsed with the supposed differences; without any, what it calls where nothing differs. */
function rehearsal(flags: PlanFlags, comparison: PlannedComparison, names: string[], mountsOf: (n: string) => number) {
  const supposed = flags.true ?? {};
  const plan = {
    ...comparison,
    specimens: names.map((n) => ({ specimen: n, rise_k: supposed[n] ?? 0, mounts: mountsOf(n), wait_h: flags.wait[n] ?? 0 })),
    ...{ mount_min: flags.mountMin, run_min: flags.runMin, day_sd: 0, block: null, rigs: 1, failure: 0, limit_rise_k: null, looks: [] },
  };
  const { throttled, ...told } = rehearse(plan, flags.rehearse ?? 0, flags.seed);
  return { ...told, supposed };
}

const stockFindings = (flags: PlanFlags, names: string[]) =>
  names
    .filter((n) => (flags.coupons[n] ?? flags.mounts) < flags.mounts)
    .map((n) => ({
      code: 'stock_short' as const,
      severity: 'warn' as const,
      message: `${n} allows ${flags.coupons[n]} mounts; ${flags.mounts} are planned.`,
      nearest: `Buy for ${flags.mounts - flags.coupons[n]} more, or plan ${flags.coupons[n]} mounts each.`,
    }));

function describe(plan: ReturnType<typeof planStudy>, flags: PlanFlags): string {
  const percent = (v: number) => `${(100 * v).toFixed(1)} %`;
  const lines = [
    `${flags.mounts} mounts each find a difference of ${write(plan.detectable_k, 2)} K with ${percent(flags.power)} chance; equal specimens count as equivalent with ${percent(plan.equivalence_power)}.`,
    plan.mounts_needed === null
      ? `No practical number of mounts finds ${flags.margin} K.`
      : `${plan.mounts_needed} mounts each find ${flags.margin} K.`,
    plan.hours === null ? '' : `${write(plan.hours, 1)} bench hours on ${plan.days} days.`,
    ...(plan.rehearsal
      ? [
          `Rehearsed ${plan.rehearsal.count} times: ${percent(plan.rehearsal.correct)} of the verdicts right, ${percent(plan.rehearsal.wrong)} wrong, ${percent(plan.rehearsal.unresolved)} unresolved; any wrong one in ${percent(plan.rehearsal.wrong_any)}.`,
        ]
      : []),
    ...plan.order.map((m) => `day ${m.day} slot ${m.slot} ${m.rig}: ${m.specimen} mount ${m.mount}${m.extra ? ' (extra reference)' : ''}`),
    ...plan.findings.map((f) => `${f.severity}: ${f.message}${f.nearest ? ` ${f.nearest}` : ''}`),
  ];
  return `${lines.filter(Boolean).join('\n')}\n`;
}
