import { list, plural, sentenceCase } from '#core/text/words';
import type { OrderPlan, PlannedMount, TimedMount } from './orderTypes';
import { dayStart } from './timeline';
import type { PlanFinding } from './types';

const hours = (minutes: number) => `${Number((minutes / 60).toFixed(1))} h`;
const DAY = 24 * 60;
/** Hours that are enough: a proposal is rounded up, so that taking it helps. */
const enough = (minutes: number) => `${Math.ceil(minutes / 6 - 1e-9) / 10} h`;

/** Why no order can be drawn: one mount is longer than a day. */
export function dayTooShort(plan: OrderPlan): PlanFinding | null {
  const withoutWait = plan.specimens.some((s) => s.wait_min === 0);
  const needed = withoutWait ? plan.mount_min + plan.runs * plan.run_min : Math.max(plan.mount_min, plan.runs * plan.run_min);
  if (needed <= plan.day_min) return null;
  const runs = Math.floor((plan.day_min - (withoutWait ? plan.mount_min : 0)) / plan.run_min);
  return {
    code: 'day_too_short',
    severity: 'reject',
    field: 'day_hours',
    message: `One mount with its ${plural(plan.runs, 'run')} takes ${hours(needed)}; a bench day has ${hours(plan.day_min)}.`,
    nearest: runs >= 1 ? `A day of ${enough(needed)}, or ${plural(runs, 'run')} on each mount.` : `A day of ${enough(needed)}.`,
    numbers: { needed_min: needed, day_min: plan.day_min },
  };
}

/** What an order breaks: constraints, working hours, balance. Findings say what, where, and for balance why. */
export const orderFindings = (plan: OrderPlan, timed: TimedMount[]): PlanFinding[] => [
  ...tooLong(plan, timed),
  ...contaminated(plan, timed),
  ...outOfPlace(plan, timed),
  ...referencePlaces(plan, timed),
  ...balance(plan, timed),
  ...tooManyDays(plan, timed),
  ...rigsCrossed(plan, timed),
];

/** Mounts of each rig and day in their order. */
function benchDays(timed: TimedMount[]): { rig: string; day: number; mounts: TimedMount[] }[] {
  const groups = new Map<string, { rig: string; day: number; mounts: TimedMount[] }>();
  for (const m of [...timed].sort((a, b) => a.start_min - b.start_min)) {
    const key = `${m.day} ${m.rig}`;
    const group = groups.get(key) ?? { rig: m.rig, day: m.day, mounts: [] };
    group.mounts.push(m);
    groups.set(key, group);
  }
  return [...groups.values()];
}

const name = (m: PlannedMount) => `${m.specimen} mount ${m.mount}`;

function tooLong(plan: OrderPlan, timed: TimedMount[]): PlanFinding[] {
  const late = timed.filter((m) => !m.fits);
  if (late.length === 0) return [];
  const over = Math.max(...late.map((m) => m.end_min - dayStart(plan, m.runs_day) - plan.day_min));
  return [
    {
      code: 'day_overfull',
      severity: 'reject',
      message: `${list(late.slice(0, 4).map((m) => `${name(m)} on day ${m.day}`))}${late.length > 4 ? ` and ${late.length - 4} more` : ''} would end after working hours, ${Math.ceil(over)} min too late at most.`,
      nearest: 'Move them to another day, or draw the order again.',
      numbers: { mounts: late.length, minutes: over },
    },
  ];
}

function contaminated(plan: OrderPlan, timed: TimedMount[]): PlanFinding[] {
  const late = new Set(plan.specimens.filter((s) => s.last && !s.first).map((s) => s.specimen));
  return benchDays(timed).flatMap(({ rig, day, mounts }): PlanFinding[] => {
    const first = mounts.findIndex((m) => late.has(m.specimen) && !m.extra);
    const after = first < 0 ? [] : mounts.slice(first + 1).filter((m) => !late.has(m.specimen) && !m.extra);
    if (after.length === 0) return [];
    return [
      {
        code: 'contaminating_early',
        severity: 'warn',
        message: `On day ${day}, ${rig}: ${list(after.map(name))} ${after.length === 1 ? 'follows' : 'follow'} ${mounts[first].specimen}, which contaminates and belongs at the end of its day.`,
        nearest: `Move ${mounts[first].specimen} behind ${after.length === 1 ? 'it' : 'them'}.`,
      },
    ];
  });
}

/** What cannot come back stands first on its rig, what is permanent last: anything else there could not be measured any more. */
export function outOfPlace(plan: OrderPlan, mounts: PlannedMount[]): PlanFinding[] {
  const named = (key: 'first' | 'permanent') => new Set(plan.specimens.filter((s) => s[key]).map((s) => s.specimen));
  const first = named('first');
  const permanent = named('permanent');
  return plan.rigs.flatMap((rig): PlanFinding[] => {
    const own = mounts
      .filter((m) => m.rig === rig && (m.state === 'planned' || m.state === 'done'))
      .map((m, i) => ({ m, i }))
      .sort((p, q) => p.m.day - q.m.day || p.i - q.i)
      .map(({ m }) => m);
    const lastFirst = own.map((m) => first.has(m.specimen)).lastIndexOf(true);
    const opened = own.slice(0, Math.max(0, lastFirst)).filter((m) => !first.has(m.specimen));
    const bond = own.findIndex((m) => permanent.has(m.specimen));
    const behind = bond < 0 ? [] : own.slice(bond + 1);
    return [
      ...(opened.length > 0 && own[lastFirst].state === 'planned'
        ? [
            {
              code: 'opened_early',
              severity: 'reject' as const,
              message: `On ${rig}, ${list(opened.slice(0, 4).map(name))} ${opened.length === 1 ? 'comes' : 'come'} before ${name(own[lastFirst])}, which cannot be measured again once the part is opened.`,
              nearest: `Measure ${own[lastFirst].specimen} first, with all its runs.`,
            },
          ]
        : []),
      ...(behind.length > 0
        ? [
            {
              code: 'permanent_early',
              severity: 'reject' as const,
              message: `On ${rig}, ${list(behind.slice(0, 4).map(name))} ${behind.length === 1 ? 'follows' : 'follow'} ${name(own[bond])}, which is permanent: the part has no coupon, so nothing more can be mounted on it.`,
              nearest: `Put ${own[bond].specimen} last in the study, or give the rig lid-and-base coupons.`,
            },
          ]
        : []),
    ];
  });
}

function referencePlaces(plan: OrderPlan, timed: TimedMount[]): PlanFinding[] {
  if (plan.specimens.length < 2 || !plan.bracket) return [];
  const why = blockTooLong(plan);
  // days of one rig that lack the same are told together
  const lacking = new Map<string, { rig: string; lacks: string; days: number[] }>();
  for (const { rig, day, mounts } of benchDays(timed)) {
    if (!isWholeDay(plan, mounts)) continue;
    const first = mounts[0].specimen === plan.reference;
    const last = mounts.at(-1)?.specimen === plan.reference;
    if (first && last) continue;
    const lacks = first ? 'end' : last ? 'begin' : 'begin and end';
    const group = lacking.get(`${lacks} ${rig}`) ?? { rig, lacks, days: [] };
    group.days.push(day);
    lacking.set(`${lacks} ${rig}`, group);
  }
  return [...lacking.values()].map(({ rig, lacks, days }) => ({
    code: 'reference_place',
    severity: 'warn',
    message: `${rig} does not ${lacks} ${dayList(days)} with ${plan.reference}${why ? `: ${why}` : ''}. A drift of the bench within ${days.length === 1 ? 'that day' : 'those days'} would go unnoticed.`,
    nearest: why && blockMinutes(plan) > plan.day_min && blockMinutes(plan) <= DAY ? `A day of ${enough(blockMinutes(plan))}.` : undefined,
    numbers: { days: days.length },
  }));
}

const dayList = (days: number[]) => (days.length > 8 ? `${days.length} days` : `day${days.length === 1 ? '' : 's'} ${list(days)}`);

/** Specimens that are mounted in blocks: all but what is first or last in the whole study. */
const inBlocks = (plan: OrderPlan) => plan.specimens.filter((s) => !s.first && !s.permanent);

/** Mounts of one block with its extra ones. */
const blockMounts = (plan: OrderPlan) => inBlocks(plan).length + (plan.bracket ? 2 : 0);

/** Minutes of a complete block on one rig. */
function blockMinutes(plan: OrderPlan): number {
  const waits = inBlocks(plan).reduce((sum, s) => sum + s.wait_min, 0);
  return blockMounts(plan) * (plan.mount_min + plan.runs * plan.run_min) + waits;
}

/** Why a block does not fit into a day, null where it does: too long in itself, or by the time rigs wait for their one tester. */
function blockTooLong(plan: OrderPlan): string | null {
  const needed = blockMinutes(plan);
  const day = `a bench day has ${hours(plan.day_min)}`;
  if (needed > plan.day_min)
    return `${plan.bracket ? 'with the reference at both ends ' : ''}a block takes ${hours(needed)} on one rig, ${day}`;
  // each mount may wait for the other rigs' hands-on time
  const shared = needed + (plan.rigs.length - 1) * blockMounts(plan) * plan.mount_min;
  if (shared > plan.day_min)
    return `a block takes ${hours(needed)} and up to ${hours(shared - needed)} more while ${plan.rigs.length} rigs share one tester, ${day}`;
  return null;
}

/** True where a day holds each specimen that still has mounts equally often, extra reference mounts aside. */
export function isWholeDay(plan: OrderPlan, mounts: PlannedMount[]): boolean {
  const counts = inBlocks(plan).map((s) => mounts.filter((m) => m.specimen === s.specimen && !m.extra).length);
  const alone = mounts.some((m) => plan.specimens.some((s) => s.specimen === m.specimen && (s.first || s.permanent)));
  return counts.every((c) => c === counts[0] && (c > 0 || alone));
}

function balance(plan: OrderPlan, timed: TimedMount[]): PlanFinding[] {
  const broken = benchDays(timed).filter((d) => !isWholeDay(plan, d.mounts));
  if (broken.length === 0) return [];
  const days = [...new Set(broken.map((d) => d.day))].sort((a, b) => a - b);
  const specimens = inBlocks(plan);
  const fewest = Math.min(...specimens.map((s) => s.mounts));
  const most = Math.max(...specimens.map((s) => s.mounts));
  const waits = specimens.reduce((sum, s) => sum + s.wait_min, 0);
  const needed = blockMinutes(plan);
  const short = specimens.filter((s) => s.mounts < most).map((s) => s.specimen);
  const why: string[] = [];
  const long = blockTooLong(plan);
  if (long) why.push(long);
  if (fewest < most) why.push(`${list(short)} ${short.length === 1 ? 'has' : 'have'} fewer mounts than the others`);
  // a mount that failed or was lost leaves a gap in the numbers
  const replaced = plan.specimens.some((s) => {
    const numbers = timed.filter((m) => m.specimen === s.specimen).map((m) => m.mount);
    return Math.max(0, ...numbers) > numbers.length;
  });
  if (replaced) why.push('mounts were replaced');
  const runs = Math.floor((plan.day_min - waits) / blockMounts(plan) / plan.run_min - plan.mount_min / plan.run_min);
  const nearest =
    needed <= plan.day_min
      ? undefined
      : runs >= 1
        ? `With ${plural(runs, 'run')} on each mount, or a day of ${enough(needed)}, every day would hold a complete block.`
        : needed > DAY
          ? 'Fewer specimens in one study, or shorter waits, would let every day hold a complete block.'
          : `A day of ${enough(needed)}, or fewer specimens in one study, would let every day hold a complete block.`;
  return [
    {
      code: 'day_unbalanced',
      severity: why.length > 0 ? 'note' : 'warn',
      message: `${sentenceCase(dayList(days))} ${days.length === 1 ? 'holds' : 'hold'} no complete block${why.length > 0 ? `: ${why.join('; ')}` : ': mounts were moved'}. A shift between days then enters the comparison.`,
      nearest,
      numbers: { days: days.length, needed_min: needed, day_min: plan.day_min },
    },
  ];
}

function tooManyDays(plan: OrderPlan, timed: TimedMount[]): PlanFinding[] {
  const used = Math.max(0, ...timed.map((m) => m.runs_day));
  if (plan.days === null || used <= plan.days) return [];
  const blocks = Math.max(...plan.specimens.map((s) => s.mounts));
  const mounts = Math.floor((blocks * plan.days) / used);
  return [
    {
      code: 'too_many_days',
      severity: 'reject',
      field: 'days',
      message: `The order takes ${used} bench days; ${plural(plan.days, 'is', 'are')} at hand.`,
      nearest: mounts >= 2 ? `About ${mounts} mounts each fit into ${plan.days} days.` : `${used} days, another rig, or fewer specimens.`,
      numbers: { used, days: plan.days },
    },
  ];
}

function rigsCrossed(plan: OrderPlan, timed: TimedMount[]): PlanFinding[] {
  if (plan.rigs.length < 2) return [];
  const used = plan.rigs.filter((r) => timed.some((m) => m.rig === r));
  const idle = plan.rigs.filter((r) => !used.includes(r));
  const findings: PlanFinding[] = [];
  if (idle.length > 0) {
    const only = Math.max(...plan.specimens.map((s) => s.mounts));
    findings.push({
      code: 'rig_idle',
      severity: 'note',
      message: `${list(idle)} ${idle.length === 1 ? 'has' : 'have'} nothing to do: with ${plural(only, 'mount')} each there are not enough complete blocks for ${plan.rigs.length} rigs.`,
    });
  }
  const lone = plan.specimens
    .filter((s) => used.some((r) => !timed.some((m) => m.rig === r && m.specimen === s.specimen)))
    .map((s) => s.specimen);
  if (used.length > 1 && lone.length > 0) {
    findings.push({
      code: 'rig_confounded',
      severity: 'warn',
      message: `${list(lone)} ${lone.length === 1 ? 'is' : 'are'} not on every rig, so a difference between the rigs cannot be separated from a difference between specimens.`,
      nearest: `Give ${lone.length === 1 ? 'it' : 'them'} a mount on each of ${list(used)}, or use one rig.`,
    });
  }
  return findings;
}
