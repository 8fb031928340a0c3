import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { type KeyboardEvent, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { moveMount } from '#core/design/changeOrder';
import type { PlannedMount, TimedMount } from '#core/design/orderTypes';
import { dayStart, timeOrder } from '#core/design/timeline';
import { benchClock, dayWords } from '#features/study/model/calendar';
import type { ResolvedPlan } from '#features/study/model/resolve';
import type { OrderedMount } from '#features/study/server/planView';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Scroll } from '#ui/Table.tsx';
import { keyOf, type OrderSlot, plannedAt, slotOf, stepPlace } from './orderSlots';

interface OrderRowsProps {
  plan: ResolvedPlan;
  mounts: OrderedMount[];
  look: 'grid' | 'timeline';
  chosen: string | null;
  studyId: number;
  onChoose: (key: string | null) => void;
  onMove: (mount: PlannedMount, to: OrderSlot) => Promise<void>;
}

/**
 * A row for each rig and day, the mounts in their order or by the clock; a mount is dragged, or picked up with Enter and moved with the
 * arrows.
 */
export function OrderRows({ plan, mounts, look, chosen, studyId, onChoose, onMove }: OrderRowsProps) {
  const order = plan.order;
  const [held, setHeld] = useState<{ mount: PlannedMount; at: OrderSlot } | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const shown = useMemo(() => (held ? moveMount(mounts, held.mount, held.at) : mounts), [mounts, held]);
  const timed = useMemo(() => (order ? timeOrder(order, shown) : []), [order, shown]);
  // a mount that goes to another row is drawn anew: it keeps the focus, so that no key is lost
  useLayoutEffect(() => {
    if (held) list.current?.querySelector<HTMLElement>(`[data-mount="${CSS.escape(keyOf(held.mount))}"]`)?.focus();
  }, [held]);
  if (!order) return null;
  const days = Math.max(1, ...shown.map((m) => m.day), ...timed.map((m) => m.runs_day)) + (held || look === 'grid' ? 1 : 0);
  const rigs = [...new Set([...order.rigs, ...mounts.map((m) => m.rig)])];
  const rows = Array.from({ length: days }, (_, d) => rigs.map((rig) => ({ rig, day: d + 1 }))).flat();
  const drop = async (mount: PlannedMount, to: OrderSlot) => {
    await onMove(mount, to);
    setHeld(null);
    requestAnimationFrame(() => list.current?.querySelector<HTMLElement>(`[data-mount="${CSS.escape(keyOf(mount))}"]`)?.focus());
  };
  const onKey = (mount: OrderedMount) => (e: KeyboardEvent) => {
    if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      if (held) void drop(held.mount, held.at);
      else if (mount.state === 'planned') setHeld({ mount, at: slotOf(mounts, mount) });
    } else if (e.key === 'Escape' && held) {
      e.preventDefault();
      setHeld(null);
    } else if (e.key.startsWith('Arrow')) {
      if (held) {
        e.preventDefault();
        const next = stepPlace(e.key, held.at, rows, mounts, keyOf(held.mount));
        if (next) setHeld({ ...held, at: next });
      } else if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') {
        e.preventDefault();
        const chips = [...(list.current?.querySelectorAll<HTMLElement>('[data-mount]') ?? [])];
        const at = chips.indexOf(e.currentTarget as HTMLElement);
        chips[at + (e.key === 'ArrowLeft' ? -1 : 1)]?.focus();
      }
    }
  };
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const mount = mounts.find((m) => keyOf(m) === active.id);
    const to = over?.data.current as { rig: string; day: number; key: string | null } | undefined;
    if (!mount || !to) return;
    const there = plannedAt(mounts, to.rig, to.day, keyOf(mount));
    const index = to.key === null ? -1 : there.findIndex((m) => keyOf(m) === to.key);
    void onMove(mount, { rig: to.rig, day: to.day, before: index < 0 ? there.length : index });
  };
  const chip = (m: OrderedMount): Chip => ({
    mount: m,
    position: plan.specimens.find((s) => s.name === m.specimen)?.position ?? 0,
    chosen: chosen === keyOf(m),
    held: held !== null && keyOf(held.mount) === keyOf(m),
    onChoose: () => onChoose(chosen === keyOf(m) ? null : keyOf(m)),
    onKeyDown: onKey(m),
  });
  return (
    <DndContext id="order" sensors={sensors} collisionDetection={pointerWithin} onDragEnd={onDragEnd}>
      <p className="mt-3 text-note text-soft">
        Drag a mount, or pick it up with Enter, move it with the arrows, put it down with Enter; Escape leaves it where it was. Dashed:
        extra reference. Filled mark: done.
        {look === 'timeline' && ' Under each name: dark is work at the open machine, hatched is waiting, teal is its runs.'}
      </p>
      <p className="sr-only" aria-live="assertive">
        {held &&
          `${held.mount.specimen} mount ${held.mount.mount}: day ${held.at.day}, ${held.at.rig}, place ${held.at.before + 1} of ${plannedAt(mounts, held.at.rig, held.at.day, keyOf(held.mount)).length + 1}`}
      </p>

      <Scroll label="Order of the mounts by day and rig" className="mt-1">
        <div ref={list} className="min-w-[860px]" data-testid="order">
          {look === 'timeline' && <ClockAxis plan={plan} end={lateEnd(plan, timed)} />}
          {rows.map(({ rig, day }, i) => {
            const own = shown.filter((m) => m.rig === rig && m.day === day);
            const label = rigs.indexOf(rig) === 0;
            return (
              <div
                key={`${day} ${rig}`}
                className={`flex items-stretch ${label && i > 0 ? 'border-t border-ink' : 'border-t border-rule'}`}
              >
                <div className="w-36 shrink-0 py-1.5 pr-2">
                  {label && (
                    <a className="block font-semibold" href={`/studies/${studyId}/days/${day}`}>
                      {plan.dates[day - 1] ? dayWords(plan.dates[day - 1]).replace(/ \d{4}$/, '') : `Day ${day}`}
                    </a>
                  )}
                  <span className="block truncate text-note text-soft">{rig}</span>
                </div>
                {look === 'grid' ? (
                  <GridRow
                    rig={rig}
                    day={day}
                    mounts={own}
                    later={timed.filter((t) => t.rig === rig && t.runs_day === day && t.day < day)}
                    chip={chip}
                  />
                ) : (
                  <ClockRow
                    rig={rig}
                    day={day}
                    plan={plan}
                    mounts={own}
                    timed={timed.filter((t) => t.rig === rig)}
                    end={lateEnd(plan, timed)}
                    chip={chip}
                  />
                )}
              </div>
            );
          })}
        </div>
      </Scroll>
    </DndContext>
  );
}

interface Chip {
  mount: OrderedMount;
  /** of its specimen, for its mark */
  position: number;
  chosen: boolean;
  held: boolean;
  onChoose: () => void;
  onKeyDown: (e: KeyboardEvent) => void;
}

interface GridRowProps {
  rig: string;
  day: number;
  mounts: OrderedMount[];
  /** mounts of earlier days that are run on this one */
  later: TimedMount[];
  chip: (m: OrderedMount) => Chip;
}

function GridRow({ rig, day, mounts, later, chip }: GridRowProps) {
  const { setNodeRef, isOver } = useDroppable({ id: `${rig} ${day} end`, data: { rig, day, key: null } });
  return (
    <div ref={setNodeRef} className={`flex min-h-11 flex-1 flex-wrap items-center gap-1 py-1 ${isOver ? 'bg-band' : ''}`}>
      {later.length > 0 && (
        <span className="pr-2 text-note text-soft">runs of {later.map((t) => `${t.specimen} ${t.mount}`).join(', ')}</span>
      )}
      {mounts.map((m) => (
        <MountChip key={keyOf(m)} {...chip(m)} />
      ))}
    </div>
  );
}

/** A mount as a piece that can be taken: its mark, name and number. */
function MountChip({
  mount,
  position,
  chosen,
  held,
  onChoose,
  onKeyDown,
  style,
  bar,
}: Chip & { style?: React.CSSProperties; bar?: React.ReactNode }) {
  const key = keyOf(mount);
  const drag = useDraggable({ id: key, disabled: mount.state !== 'planned' });
  const dropOn = useDroppable({ id: `on ${key}`, data: { rig: mount.rig, day: mount.day, key } });
  const { transform } = drag;
  const lost = mount.state === 'failed' || mount.state === 'lost';
  return (
    <button
      type="button"
      ref={(el) => {
        drag.setNodeRef(el);
        dropOn.setNodeRef(el);
      }}
      {...drag.listeners}
      data-mount={key}
      aria-pressed={chosen || held}
      aria-label={`${mount.specimen} mount ${mount.mount}, ${mount.rig}, day ${mount.day}, ${held ? 'picked up' : mount.state}${mount.extra ? ', extra reference' : ''}`}
      className={`${bar ? 'absolute' : 'relative'} inline-flex h-9 touch-none items-center gap-1.5 rounded-[2px] border px-2 text-note whitespace-nowrap
        ${held ? 'border-ember bg-ember text-on-ember' : chosen ? 'border-ink bg-band outline outline-1 outline-ink' : mount.extra ? 'border-dashed border-soft' : 'border-rule bg-leaf'}
        ${lost ? 'text-soft line-through' : ''} ${drag.isDragging ? 'z-20 opacity-80' : ''} ${dropOn.isOver && !drag.isDragging ? 'border-l-4 border-l-ember' : ''} ${bar ? 'overflow-hidden !px-0' : ''}`}
      style={{ ...style, ...(transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : {}) }}
      onClick={onChoose}
      onKeyDown={onKeyDown}
    >
      {bar}
      <span className={`inline-flex items-center gap-1.5 ${bar ? 'relative min-w-0 pl-1' : ''}`}>
        <SpecimenMark position={position} size={4.5} hollow={mount.state !== 'done'} />
        <span className={bar ? 'truncate' : ''}>
          {mount.specimen} <span className="figure">{mount.mount}</span>
        </span>
      </span>
    </button>
  );
}

/** Minutes after the start of the day at which the latest day ends. */
function lateEnd({ order }: ResolvedPlan, timed: TimedMount[]): number {
  if (!order) return 480;
  return Math.max(
    order.day_min,
    ...timed.map((m) => m.end_min - dayStart(order, m.runs_day)),
    ...timed.map((m) => m.hands_end_min - dayStart(order, m.day)),
  );
}

function ClockAxis({ plan, end }: { plan: ResolvedPlan; end: number }) {
  const first = plan.dates[0] ?? '2026-01-01';
  const hours = Array.from({ length: Math.floor(end / 60) + 1 }, (_, h) => h);
  return (
    <div className="flex">
      <div className="w-36 shrink-0" />
      <div className="relative h-6 flex-1">
        {hours.map((h) => (
          <span
            key={h}
            className="figure absolute text-note text-soft"
            style={{
              left: `${(6000 * h) / end}%`,
              transform: h === 0 ? undefined : (60 * h) / end > 0.97 ? 'translateX(-100%)' : 'translateX(-50%)',
            }}
          >
            {benchClock(first, plan.said.start_time, 60 * h).time}
          </span>
        ))}
      </div>
    </div>
  );
}

interface ClockRowProps {
  rig: string;
  day: number;
  plan: ResolvedPlan;
  mounts: OrderedMount[];
  timed: TimedMount[];
  end: number;
  chip: (m: OrderedMount) => Chip;
}

/** One rig's day by the clock: hands-on dark, waits hatched, runs light; what waits over night ends on a later day. */
function ClockRow({ rig, day, plan, mounts, timed, end, chip }: ClockRowProps) {
  const { setNodeRef, isOver } = useDroppable({ id: `${rig} ${day} end`, data: { rig, day, key: null } });
  if (!plan.order) return null;
  const zero = dayStart(plan.order, day);
  const share = (minutes: number) => `${(100 * minutes) / end}%`;
  const later = timed.filter((t) => t.runs_day === day && t.day < day);
  return (
    <div
      ref={setNodeRef}
      className={`relative h-11 flex-1 ${isOver ? 'bg-band' : ''}`}
      style={{ backgroundImage: 'linear-gradient(to right, var(--rule) 1px, transparent 1px)', backgroundSize: `${6000 / end}% 100%` }}
    >
      {later.map((t) => (
        <span
          key={keyOf(t)}
          className="absolute top-1 flex h-9 items-center overflow-hidden border border-soft bg-leaf px-1 text-note whitespace-nowrap"
          style={{ left: share(t.runs_start_min - zero), width: share(t.end_min - t.runs_start_min) }}
          title={`${t.specimen} mount ${t.mount}: runs`}
        >
          runs of {t.specimen} {t.mount}
        </span>
      ))}
      {mounts.map((m) => {
        const t = timed.find((x) => keyOf(x) === keyOf(m));
        if (!t) return null;
        const until = t.runs_day === day ? t.end_min : Math.max(t.hands_end_min, Math.min(zero + end, t.runs_start_min));
        const length = until - t.start_min;
        const part = (from: number, to: number) => ({
          left: `${(100 * (from - t.start_min)) / length}%`,
          width: `${(100 * (to - from)) / length}%`,
        });
        return (
          <MountChip
            key={keyOf(m)}
            {...chip(m)}
            style={{ left: share(t.start_min - zero), width: share(length), top: 4 }}
            bar={
              <>
                <span className="absolute bottom-0 h-1.5 bg-ink" style={part(t.start_min, t.hands_end_min)} />
                <span
                  className="absolute bottom-0 h-1.5"
                  style={{
                    ...part(t.hands_end_min, Math.min(until, t.runs_start_min)),
                    backgroundImage: 'repeating-linear-gradient(45deg, var(--soft) 0 2px, transparent 2px 5px)',
                  }}
                />
                {t.runs_day === day && <span className="absolute bottom-0 h-1.5 bg-cool" style={part(t.runs_start_min, t.end_min)} />}
                {!t.fits && <span className="absolute top-0 right-0 h-full w-1 bg-ember" />}
              </>
            }
          />
        );
      })}
    </div>
  );
}
