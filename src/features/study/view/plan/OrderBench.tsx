import { CalendarDays, Printer, Undo2 } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { moveMount } from '#core/design/changeOrder';
import type { PlannedMount, TimedMount } from '#core/design/orderTypes';
import { benchHours } from '#core/design/timeline';
import { plural, sentenceCase, write } from '#core/text/words';
import { dayWords } from '#features/study/model/calendar';
import { sectionLines } from '#features/study/model/planWords';
import type { OrderedMount } from '#features/study/server/planView';
import { Quiet } from '#ui/Form.tsx';
import { BenchFields } from './BenchFields.tsx';
import { DayStrip } from './DayStrip.tsx';
import { keyOf, type OrderSlot } from './orderSlots';
import { PlanSection } from './PlanSection.tsx';
import type { PlanDesk } from './usePlan';

/** Dragging is not needed before there is an order. */
const OrderRows = lazy(() => import('./OrderRows.tsx').then((m) => ({ default: m.OrderRows })));

interface OrderBenchProps {
  desk: PlanDesk;
  /** the mounts of the order with their times; none while there is no order */
  timed: TimedMount[];
}

/** What was done to the order, and what takes it back. */
interface Undo {
  what: string;
  body: object;
}

/** What the bench holds as it is worked on, and what follows from it. */
function useBench({ desk, timed }: OrderBenchProps) {
  const { resolved, view } = desk;
  const [look, setLook] = useState<'grid' | 'timeline'>('grid');
  const [chosen, setChosen] = useState<string | null>(null);
  const [undo, setUndo] = useState<Undo | null>(null);
  const [busy, setBusy] = useState(false);
  const selected = view.mounts.find((m) => keyOf(m) === chosen) ?? null;
  const open = view.mounts.filter((m) => m.state === 'planned').length;

  const act = async (body: object, what: string | null, back?: object) => {
    const before = view.mounts.map(({ specimen, mount, rig, day }) => ({ specimen, mount, rig, day }));
    setBusy(true);
    const answer = await desk.act('/order', { method: 'POST', body: JSON.stringify(body) });
    setBusy(false);
    setUndo(answer && what ? { what, body: back ?? { action: 'put_back', mounts: before } } : null);
  };
  const move = (mount: PlannedMount, to: OrderSlot) => {
    const { specimen, mount: number } = mount;
    // nothing is sent where it stays in its place
    if (JSON.stringify(moveMount(view.mounts, mount, to).map(place)) === JSON.stringify(view.mounts.map(place))) return Promise.resolve();
    return act({ action: 'move', mount: { specimen, mount: number }, ...to }, `${specimen} mount ${number} moved`);
  };
  return { desk, view, resolved, busy, act, open, look, setLook, timed, undo, chosen, setChosen, move, selected };
}
type Bench = ReturnType<typeof useBench>;

/** The schedule: the bench with its days, the mounts over them as a strip, and their order to be changed by hand. */
export function OrderBench(props: OrderBenchProps) {
  const bench = useBench(props);
  const { desk, view, resolved, busy, act, open, look, timed, chosen, setChosen, move, selected } = bench;
  const drawn = view.mounts.length > 0;
  return (
    <div>
      {resolved.order && drawn && <p className="text-note text-soft">Filled marks are done. A day leads to its sheet.</p>}
      {resolved.order && drawn && <DayStrip plan={resolved} mounts={view.mounts} timed={timed} studyId={view.study_id} />}
      <div className="my-3 flex flex-wrap items-center gap-3">
        <button
          type="button"
          className={drawn ? 'quiet' : 'act'}
          disabled={!resolved.order || busy}
          onClick={() =>
            void act({ action: 'draw', seed: resolved.said.seed }, drawn && open === view.mounts.length ? 'drawn again' : null)
          }
        >
          {!drawn ? 'Draw the order' : open === view.mounts.length ? 'Draw the order again' : 'Draw the rest of the order again'}
        </button>
        {drawn && <OrderTools bench={bench} />}
        {!resolved.order && <p className="text-soft">An order needs two things to compare, a reference among them, and a rig.</p>}
      </div>
      <div aria-live="polite">
        <UndoLine bench={bench} />
      </div>
      <PlanSection id="bench" title="Bench time" state={sectionLines(resolved, desk.plan).bench} open={resolved.rigs.length === 0}>
        <BenchFields desk={desk} />
      </PlanSection>
      {resolved.order && drawn && (
        <PlanSection
          id="order"
          title="Order of mounts"
          state={`${plural(timed.length, 'mount')} on ${plural(Math.max(0, ...timed.map((m) => m.runs_day)), 'day')}, ${write(benchHours(timed), 1)} bench hours, drawn with seed ${resolved.said.seed}`}
        >
          <LookSwitch bench={bench} />
          <Suspense fallback={<p className="mt-3 text-soft">Laying out the days …</p>}>
            <OrderRows
              plan={resolved}
              mounts={view.mounts}
              look={look}
              chosen={chosen}
              onChoose={setChosen}
              onMove={move}
              studyId={view.study_id}
            />
          </Suspense>
          {selected && <Selected key={keyOf(selected)} mount={selected} timed={timed} desk={desk} busy={busy} act={act} />}
        </PlanSection>
      )}
    </div>
  );
}

const place = ({ specimen, mount, rig, day }: PlannedMount) => [specimen, mount, rig, day];

function firstOpenDay(mounts: PlannedMount[]): number {
  const open = mounts.filter((m) => m.state === 'planned').map((m) => m.day);
  return open.length > 0 ? Math.min(...open) : 1;
}

interface SelectedProps {
  mount: OrderedMount;
  timed: TimedMount[];
  desk: PlanDesk;
  busy: boolean;
  act: (body: object, what: string | null, back?: object) => Promise<void>;
}

/** The chosen mount: when it is, and what happened to it. */
function Selected({ mount, timed, desk, busy, act }: SelectedProps) {
  const [reason, setReason] = useState('');
  const times = timed.find((t) => keyOf(t) === keyOf(mount));
  const { dates } = desk.resolved;
  const key = { specimen: mount.specimen, mount: mount.mount };
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2 border-l-4 border-ink pl-3"
      onSubmit={(e) => e.preventDefault()}
      aria-label={`${mount.specimen} mount ${mount.mount}`}
    >
      <p className="pb-1.5">
        <span className="font-semibold">
          {mount.specimen}, mount {mount.mount}
        </span>
        {mount.extra ? ', extra reference' : ''} · {mount.rig}, {dates[mount.day - 1] ? dayWords(dates[mount.day - 1]) : `day ${mount.day}`}
        {times && ` · runs end ${times.runs_day === mount.day ? 'that day' : `on day ${times.runs_day}`}`}
        {mount.state !== 'planned' && ` · ${mount.state}`}
        {mount.reason && `: ${mount.reason}`}
      </p>
      {mount.state === 'planned' && (
        <>
          <label className="font-semibold">
            What happened
            <input
              className="field block w-64 font-normal"
              value={reason}
              maxLength={500}
              placeholder="tilted, no start, leaked"
              onChange={(e) => setReason(e.target.value)}
            />
          </label>
          <Quiet
            disabled={busy || reason.trim() === ''}
            onClick={() =>
              void act({ action: 'mark', mount: key, state: 'failed', reason }, `${mount.specimen} mount ${mount.mount} marked as failed`, {
                action: 'unmark',
                mount: key,
              })
            }
          >
            Failed: plan another
          </Quiet>
          <Quiet
            disabled={busy || reason.trim() === ''}
            onClick={() =>
              void act({ action: 'mark', mount: key, state: 'lost', reason }, `${mount.specimen} mount ${mount.mount} marked as lost`, {
                action: 'unmark',
                mount: key,
              })
            }
          >
            Lost: plan another
          </Quiet>
        </>
      )}
    </form>
  );
}

/** By their order, or by the clock. */
const LookSwitch = ({ bench: { look, setLook } }: { bench: Bench }) => (
  <fieldset className="flex" aria-label="Look of the order">
    {(['grid', 'timeline'] as const).map((l) => (
      <button
        key={l}
        type="button"
        aria-pressed={look === l}
        className={`quiet ${look === l ? 'bg-band font-semibold' : ''}`}
        onClick={() => setLook(l)}
      >
        {l === 'grid' ? 'Order' : 'Days by the clock'}
      </button>
    ))}
  </fieldset>
);

/** What the order is taken along as. */
const OrderTools = ({ bench: { resolved, view } }: { bench: Bench }) => (
  <>
    <a className="quiet inline-flex items-center gap-2" href={`/studies/${view.study_id}/days/${firstOpenDay(view.mounts)}`}>
      <Printer size={16} aria-hidden="true" />
      Day sheet
    </a>
    {resolved.dates.length > 0 ? (
      <a className="quiet inline-flex items-center gap-2" href={`/api/studies/${view.study_id}/plan.ics`} download>
        <CalendarDays size={16} aria-hidden="true" />
        Calendar file
      </a>
    ) : (
      <span className="text-note text-soft">Set a first day to get dates and a calendar file.</span>
    )}
  </>
);

/** Takes the last change back. */
function UndoLine({ bench: { undo, busy, act } }: { bench: Bench }) {
  if (!undo) return null;
  return (
    <p className="mt-2 flex items-center gap-3 border-l-4 border-ink pl-3">
      {sentenceCase(undo.what)}.
      <Quiet className="inline-flex items-center gap-2" disabled={busy} onClick={() => void act(undo.body, null)}>
        <Undo2 size={16} aria-hidden="true" />
        Undo
      </Quiet>
    </p>
  );
}
