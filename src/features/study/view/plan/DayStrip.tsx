import type { TimedMount } from '#core/design/orderTypes';
import { plural, write } from '#core/text/words';
import { dayWords } from '#features/study/model/calendar';
import type { ResolvedPlan } from '#features/study/model/resolve';
import type { OrderedMount } from '#features/study/server/planView';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Scroll } from '#ui/Table.tsx';
import { keyOf } from './orderSlots';

interface DayStripProps {
  plan: ResolvedPlan;
  mounts: OrderedMount[];
  timed: TimedMount[];
  studyId: number;
}

/** The schedule as a strip of days: the mounts of each in their order, filled where they are done; a day leads to its sheet. */
export function DayStrip({ plan, mounts, timed, studyId }: DayStripProps) {
  const days = [...new Set(mounts.map((m) => m.day))].sort((a, b) => a - b);
  const mark = (m: OrderedMount) => plan.specimens.find((s) => s.name === m.specimen)?.position ?? 0;
  const hours = (day: number) => {
    const own = timed.filter((t) => t.day === day);
    const first = Math.min(...own.map((t) => t.start_min));
    const last = Math.max(...own.map((t) => (t.runs_day === day ? t.end_min : t.hands_end_min)));
    return own.length > 0 ? `${write((last - first) / 60, 1)} h` : '';
  };
  return (
    <Scroll label="Bench days with their mounts">
      <ol className="flex gap-1.5 py-1" data-testid="day-strip">
        {days.map((day) => {
          const own = mounts.filter((m) => m.day === day);
          const done = own.filter((m) => m.state === 'done').length;
          return (
            <li key={day} className="min-w-28 flex-1">
              <a
                href={`/studies/${studyId}/days/${day}`}
                aria-label={`Day sheet of ${plan.dates[day - 1] ? dayWords(plan.dates[day - 1]) : `day ${day}`}: ${plural(own.length, 'mount')}, ${done} done`}
                className={`block h-full border-t-4 bg-leaf px-2 pt-1.5 pb-2 no-underline hover:bg-band ${done === own.length ? 'border-cool' : done > 0 ? 'border-ember' : 'border-soft'}`}
              >
                <span className="flex justify-between gap-2 text-note">
                  <span className="font-semibold whitespace-nowrap">
                    {plan.dates[day - 1] ? dayWords(plan.dates[day - 1]).replace(/ \d{4}$/, '') : `Day ${day}`}
                  </span>
                  <span className="whitespace-nowrap text-soft">{hours(day)}</span>
                </span>
                <span className="mt-1 flex flex-wrap gap-0.5">
                  {own.map((m) => (
                    <span
                      key={keyOf(m)}
                      title={`${m.specimen} mount ${m.mount}, ${m.rig}, ${m.state}`}
                      className={m.state === 'failed' || m.state === 'lost' ? 'opacity-40' : ''}
                    >
                      <SpecimenMark position={mark(m)} size={4.5} hollow={m.state !== 'done'} />
                    </span>
                  ))}
                </span>
              </a>
            </li>
          );
        })}
      </ol>
    </Scroll>
  );
}
