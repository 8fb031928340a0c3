import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import { Refusal } from '#app/refusal';
import { timeOrder } from '#core/design/timeline';
import { plural } from '#core/text/words';
import { benchClock } from '#features/study/model/calendar';
import { resolvePlan } from '#features/study/model/resolve';
import { planView } from './planView';

/**
 * The order of a study as an iCalendar file (RFC 5545), one entry a mount, a second one where its runs follow on a later day.
 * Times are those of the clock at the bench, without a zone: nine at the bench is nine wherever the file is opened.
 */
export async function planCalendar(studyId: number): Promise<string> {
  const view = await planView(studyId);
  const plan = resolvePlan(view.plan, view.context);
  const first = plan.dates[0];
  if (!plan.order || view.mounts.length === 0) throw new Refusal('There is no order to put into a calendar yet; draw one first.');
  if (!first) throw new Refusal('The plan has no first day; a calendar needs one.');
  const title = view.plan.title ?? '';
  const calendar = ical({
    name: `${title}: mounts`,
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: 'Warm Gauge', product: 'plan', language: 'EN' },
  });
  const moment = (minutes: number) => {
    const { date, time } = benchClock(first, plan.said.start_time, minutes);
    return new Date(`${date}T${time}:00Z`);
  };
  for (const m of timeOrder(plan.order, view.mounts)) {
    const id = view.mounts.find((o) => o.specimen === m.specimen && o.mount === m.mount)?.id;
    const apart = m.runs_day !== m.day;
    const entry = (part: string, summary: string, from: number, to: number) =>
      calendar.createEvent({
        id: `mount-${id}-${part}@warm-gauge`,
        start: moment(from),
        end: moment(to),
        floating: true,
        summary,
        location: m.rig,
        status: m.state === 'done' ? ICalEventStatus.CONFIRMED : ICalEventStatus.TENTATIVE,
        description: `${title}. ${m.specimen}, mount ${m.mount}${m.extra ? ', extra reference' : ''}, ${plural(plan.said.runs, 'run')}.`,
      });
    if (!apart) entry('1', `${m.specimen}, mount ${m.mount}`, m.start_min, m.end_min);
    else {
      entry('1', `${m.specimen}, mount ${m.mount}: apply and assemble`, m.start_min, m.hands_end_min);
      entry('2', `${m.specimen}, mount ${m.mount}: runs`, m.runs_start_min, m.end_min);
    }
  }
  return calendar.toString();
}
