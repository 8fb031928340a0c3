import { write } from '#core/text/words';
import { Tick } from '#ui/Form.tsx';
import { Conflict, PlanField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** What the bench gives: rigs, hours, days, and what a mount and a run take. */
export function BenchFields({ desk }: { desk: PlanDesk }) {
  const { plan, context, resolved } = desk;
  const rigs = plan.rigs ?? [];
  const weekdays = plan.weekdays ?? resolved.said.weekdays;
  const toggle = <T,>(list: readonly T[], item: T, on: boolean) => (on ? [...list, item] : list.filter((i) => i !== item));
  return (
    <div className="grid gap-x-5 gap-y-3 sm:grid-cols-3 lg:grid-cols-6">
      <fieldset className="sm:col-span-3 lg:col-span-2">
        <legend className="font-semibold">Rigs</legend>
        <div className="flex flex-wrap gap-x-4 gap-y-1 pt-1.5">
          {context.rigs.map((r) => (
            <Tick key={r.id} words={r.name} checked={rigs.includes(r.id)} onChange={(on) => desk.set('rigs', toggle(rigs, r.id, on))} />
          ))}
          {context.rigs.length === 0 && (
            <a href="/shelf/rigs/new" className="underline decoration-soft">
              Add the first rig to the shelf
            </a>
          )}
        </div>
        <Conflict desk={desk} field="rigs" />
      </fieldset>
      <fieldset className="sm:col-span-3 lg:col-span-2">
        <legend className="font-semibold">Working days</legend>
        <div className="flex flex-wrap gap-x-2 gap-y-1 pt-1.5">
          {WEEK.map((name, i) => (
            <Tick
              key={name}
              words={name}
              checked={weekdays.includes(i + 1)}
              onChange={(on) => desk.set('weekdays', toggle(weekdays, i + 1, on).sort())}
            />
          ))}
        </div>
        <Conflict desk={desk} field="weekdays" />
      </fieldset>
      <PlanField desk={desk} field="start_on" />
      <div>
        <label htmlFor="start_time" className="block font-semibold">
          Day begins at
        </label>
        <input
          id="start_time"
          type="time"
          className="field figure w-full"
          value={String(desk.typed('start_time') ?? resolved.said.start_time)}
          onChange={(e) => desk.set('start_time', e.target.value || null)}
        />
        <Conflict desk={desk} field="start_time" />
      </div>
      <PlanField desk={desk} field="day_hours" />
      <PlanField desk={desk} field="days" otherwise="as needed" hint={null} />
      <PlanField
        desk={desk}
        field="mount_min"
        otherwise={write(resolved.said.mount_min, 0)}
        hint={
          plan.mount_min == null && resolved.rigs.some((r) => r.teardown_min)
            ? 'Includes taking the rig apart and closing it, by its list.'
            : null
        }
      />
      <PlanField
        desk={desk}
        field="run_min"
        otherwise={write(resolved.said.run_min, 0)}
        hint={plan.run_min == null && (plan.loads?.length ?? 0) > 0 ? 'Sum of the steps of the loads.' : null}
      />
      <PlanField desk={desk} field="runs" />
      <PlanField desk={desk} field="seed" />
      <PlanField desk={desk} field="bracket" />
    </div>
  );
}
