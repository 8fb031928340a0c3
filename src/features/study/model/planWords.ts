import { OUTCOMES } from '#core/compare/outcomes';
import { headroom } from '#core/design/headroom';
import type { TimedMount } from '#core/design/orderTypes';
import { benchHours } from '#core/design/timeline';
import { list, plural, write } from '#core/text/words';
import { dayWords } from './calendar';
import { comparedNoun } from './factors';
import { loadMinutes } from './loadFigures';
import { type ResolvedPlan, worstResistance } from './resolve';
import type { StudyPlan } from './studyPlan';

/** A piece of a sentence; one that leads somewhere names the section of the plan it opens. */
export interface PlanPhrase {
  text: string;
  opens?: string;
}

/** The plan in one sentence: what is compared, how often, where, and how long it takes. Each phrase leads to where it is set. */
export function planSentence({ specimens, said, rigs, dates }: ResolvedPlan, timed: TimedMount[]): PlanPhrase[] {
  const noun = comparedNoun(said);
  const days = Math.max(0, ...timed.map((m) => m.runs_day));
  const from = dates[0] ? ` from ${dayWords(dates[0])}` : '';
  return [
    { text: specimens.length === 0 ? `No ${noun} yet` : plural(specimens.length, noun), opens: 'compared' },
    { text: ', ' },
    { text: `${plural(said.mounts, 'mount')} of each`, opens: 'mounts' },
    { text: ' with ' },
    { text: `${plural(said.runs, 'run')}`, opens: 'bench' },
    rigs.length === 0 ? { text: '; no rig chosen yet', opens: 'bench' } : { text: ` on ${list(rigs.map((r) => r.name))}`, opens: 'bench' },
    ...(timed.length === 0
      ? [{ text: '; ' }, { text: 'no schedule yet', opens: 'schedule' }]
      : [{ text: ': ' }, { text: `${hours(benchHours(timed))} over ${plural(days, 'day')}${from}`, opens: 'schedule' }]),
    { text: '.' },
  ];
}

const hours = (h: number): string => (h < 9.5 ? `${write(h, 1)} hours` : plural(Math.round(h), 'hour'));

/** How many findings stand against a plan, the gravest first; null where none does. */
export function findingsWords(findings: { severity: string }[]): string | null {
  const count = (severity: string) => findings.filter((f) => f.severity === severity).length;
  const [impossible, doubtful, notes] = [count('reject'), count('warn'), count('note')];
  const words = [
    ...(impossible > 0 ? [`${impossible} not possible`] : []),
    ...(doubtful > 0 ? [plural(doubtful, 'warning')] : []),
    ...(notes > 0 ? [plural(notes, 'note')] : []),
  ];
  return words.length === 0 ? null : words.join(', ');
}

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** Working days in short: Mon to Fri, or Mon, Wed. */
export function weekdayWords(days: readonly number[]): string {
  const sorted = [...new Set(days)].sort((a, b) => a - b);
  if (sorted.length === 0 || sorted.length === 7) return 'every day';
  const isRun = sorted.length > 2 && sorted.every((d, i) => d === sorted[0] + i);
  return isRun ? `${WEEK[sorted[0] - 1]} to ${WEEK[(sorted.at(-1) as number) - 1]}` : sorted.map((d) => WEEK[d - 1]).join(', ');
}

const among = (what: string, parts: (string | null | undefined | false)[], none: string): string => {
  const said = parts.filter((p): p is string => Boolean(p));
  return said.length === 0 ? none : `${what}${said.join(' · ')}`;
};

/** What each section of a plan says in one line, by its address. */
export function sectionLines(resolved: ResolvedPlan, plan: StudyPlan): Record<string, string> {
  const { said, comparison, specimens, rigs, dates } = resolved;
  const unit = comparison.unit ?? 'K';
  const noun = comparedNoun(said);
  const supposed = specimens.filter((s) => s.plan.rise_k != null).length;
  const waits = specimens.filter((s) => s.wait_h > 0).length;
  const loads = said.loads ?? [];
  return {
    bench: among(
      '',
      [
        rigs.length > 0 && list(rigs.map((r) => r.name)),
        `${weekdayWords(said.weekdays)} from ${said.start_time}, ${write(said.day_hours, said.day_hours % 1 === 0 ? 0 : 1)} h a day`,
        `a mount ${write(said.mount_min, 0)} min, a run ${write(said.run_min, 0)} min`,
        dates[0] ? `from ${dayWords(dates[0])}` : 'no first day',
      ],
      '',
    ),
    power: `${write(100 * said.power, 0)} % power, ${write(100 * said.confidence, 1).replace(/\.0$/, '')} % confidence, ${
      said.family === 'all' ? 'all pairs' : 'each with the reference'
    } · scatter between mounts ${write(comparison.mount_sd, 2)} ${unit}, between runs ${write(comparison.run_sd, 2)} ${unit}`,
    expected: among(
      '',
      [
        supposed === 0 ? 'no expected ΔT' : `expected ΔT of ${supposed} of ${plural(specimens.length, noun)}`,
        waits > 0 && `${plural(waits, noun)} with a wait before the first run`,
      ],
      '',
    ),
    conditions: among(
      '',
      (plan.held ?? []).map((h) => [h.what, h.value].filter(Boolean).join(' ')),
      'nothing named yet: rig, load, clock, fan, hardware, room',
    ),
    loads: among(
      '',
      loads.map((l) => `${l.name || 'unnamed'}, ${Number(loadMinutes(l).toFixed(1))} min`),
      `none named: one run of ${write(said.run_min, 0)} min`,
    ),
    outcomes: among(
      '',
      (plan.outcomes ?? []).map((o) => OUTCOMES[o.key]?.name ?? o.key),
      'ΔT over ambient',
    ),
    fit: plan.fit_height_mm ? `${plan.fit_enclosure || 'the enclosure'}: ${plan.fit_height_mm} mm above the part` : 'no enclosure stated',
    limits: plan.part_limits ? `${plan.part_limits}, in a room of ${said.limits_room_c} °C` : 'one limit, that of the rig',
    ageing: plan.ages ? `each mount measured at ${plan.ages} days` : 'each mount measured once',
    rehearsal: 'simulates the whole study and counts wrong verdicts',
    interim: plan.looks?.length ? `after ${list(plan.looks)} mounts of each` : 'none planned: judged once, at the end',
    headroom: headroomLine(resolved),
  };
}

/** Highest load at which the worst one stays clear of the limit; what it still needs where that is not known. */
function headroomLine(resolved: ResolvedPlan): string {
  const { said, limit_c, load_w } = resolved;
  const worst = worstResistance(resolved);
  if (worst === null || limit_c === null || said.warmest_c == null)
    return 'needs the limit of a rig, the warmest room and the worst resistance';
  const { highest_load_w } = headroom({ worst_k_per_w: worst, specimens: [], warmest_c: said.warmest_c, limit_c, load_w });
  return `highest safe load ${write(Math.floor(highest_load_w), 0)} W in a room of ${write(said.warmest_c, 0)} °C`;
}
