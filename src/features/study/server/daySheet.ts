import { timeOrder } from '#core/design/timeline';
import { plural } from '#core/text/words';
import { BENCH_CAUTIONS, cautionsOf } from '#features/shelf/model/cautions';
import { benchClock } from '#features/study/model/calendar';
import { loadMinutes } from '#features/study/model/loadFigures';
import { resolvePlan } from '#features/study/model/resolve';
import { STAGES } from '#features/study/model/stages';
import { planView } from './planView';

/** One thing to do at the bench. */
interface DayEntry {
  from: string;
  to: string;
  rig: string;
  specimen: string;
  position: number;
  mount: number;
  extra: boolean;
  done: boolean;
  what: string;
  /** true where something is applied and assembled */
  hands: boolean;
}

interface DaySheet {
  title: string;
  day: number;
  days: number;
  /** calendar day; null where the plan has no first day */
  date: string | null;
  entries: DayEntry[];
  held: string[];
  loads: string[];
  cautions: string[];
}

/** What is to be done on one bench day, by the clock, with what is held and what to mind. */
export async function daySheet(studyId: number, day: number): Promise<DaySheet> {
  const view = await planView(studyId);
  const plan = resolvePlan(view.plan, view.context);
  const timed = plan.order ? timeOrder(plan.order, view.mounts) : [];
  const first = plan.dates[0] ?? '2026-01-05';
  const clock = (minutes: number) => benchClock(first, plan.said.start_time, minutes).time;
  const runs = plural(plan.said.runs, 'run');
  const wait = (h: number) => (h < 2 ? `${Math.round(60 * h)} min` : `${Number(h.toFixed(1))} h`);
  const entries = timed.flatMap((m) => {
    const specimen = plan.specimens.find((s) => s.name === m.specimen);
    const entry = (from: number, to: number, what: string, hands: boolean) => ({
      at: from,
      ...{
        from: clock(from),
        to: clock(to),
        ...{ rig: m.rig, specimen: m.specimen, mount: m.mount, extra: m.extra },
        done: m.state === 'done',
        what,
        hands,
      },
      position: specimen?.position ?? 0,
    });
    const waiting = specimen && specimen.wait_h > 0 ? `, then ${wait(specimen.wait_h)} of conditioning or cure` : '';
    if (m.runs_day === m.day)
      return m.day === day ? [entry(m.start_min, m.end_min, `Clean, apply, assemble${waiting}; ${runs} from a cooled start`, true)] : [];
    return [
      ...(m.day === day ? [entry(m.start_min, m.hands_end_min, `Clean, apply, assemble${waiting}: runs on day ${m.runs_day}`, true)] : []),
      ...(m.runs_day === day ? [entry(m.runs_start_min, m.end_min, `${runs} from a cooled start`, false)] : []),
    ];
  });
  const names = new Set(entries.map((e) => e.specimen));
  const cautions = plan.specimens
    .filter((s) => names.has(s.name))
    .flatMap((s) => cautionsOf(s.kind, s.material?.sheet ?? null).map((c) => `${s.name}: ${c}`));
  return {
    title: view.plan.title ?? '',
    day,
    days: Math.max(1, ...timed.map((m) => m.runs_day)),
    date: plan.dates[day - 1] ?? null,
    entries: entries.sort((a, b) => a.at - b.at),
    held: (plan.said.held ?? []).map((h) => [h.what, h.value, h.tolerance].filter(Boolean).join(', ')),
    loads: (plan.said.loads ?? []).map(
      (l) =>
        `${l.name} (${Number(loadMinutes(l).toFixed(1))} min): ${l.steps
          .map((s) =>
            [STAGES[s.stage].toLowerCase(), `${s.minutes} min`, s.power_w != null ? `${s.power_w} W` : ''].filter(Boolean).join(' '),
          )
          .join(', ')}`,
    ),
    cautions: [...BENCH_CAUTIONS, ...cautions],
  };
}
