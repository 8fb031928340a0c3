import { useEffect, useState } from 'react';
import { plural, write } from '#core/text/words';
import { oddHeights } from '#core/thermal/flatness/flatness';
import { readHeights } from '#core/thermal/flatness/readHeights';
import { partnerOf } from '#features/mount/model/amounts';
import { RECORDS, type StepState } from '#features/mount/model/attempt';
import { torqueSentence } from '#features/mount/model/findings';
import { isAcknowledged } from '#features/mount/model/steps';
import { type MountStep, type RecordKey, STEP_NAMES, type StepKey } from '#features/mount/model/stepTypes';
import type { MountSheetView } from '#features/mount/server/mountSheet';
import { CutDrawing } from '#features/shelf/view/CutDrawing.tsx';
import { Act, Quiet, TextBox, TextButton, Tick } from '#ui/Form.tsx';
import { InterfaceChoices } from './InterfaceChoices.tsx';
import { RecordBox } from './RecordBox.tsx';
import { TeardownTicks } from './TeardownTicks.tsx';
import type { MountDesk } from './useMount';

/** Tools that answer what a step asks for, and write into it. */
const TOOLS: Partial<Record<StepKey, { tool: string; words: string }>> = {
  measure: { tool: 'flatness', words: 'Map of the heights, and gaps of the neighbours' },
  lap: { tool: 'flatness', words: 'What was removed at each point' },
  plate: { tool: 'flatness', words: 'Gaps of the neighbours' },
  apply: { tool: 'dose', words: 'How much, and where' },
  tighten: { tool: 'tightening', words: 'Order and torque of the screws' },
};

const now = () => new Date().toISOString();

/** What the card holds as it is worked on, and what follows from it. */
function useCard({ desk, step, onDone }: { desk: MountDesk; step: MountStep; onDone: () => void }) {
  const state = desk.view.current?.steps[step.key] ?? {};
  const stop = desk.view.stops.find((s) => s.step === step.key);
  const [typed, setTyped] = useState<Partial<Record<RecordKey, string>>>({});
  const [reason, setReason] = useState(state.stop_reason ?? '');
  const [marked, setMarked] = useState(Boolean(state.acknowledged_at));
  // what was read at an earlier step is shown again, but not asked for again
  const before = step.grave && !state.acknowledged_at && isAcknowledged(step, desk.view.steps, desk.view.current?.steps ?? {});
  // a second tap in haste must not finish the step that comes after
  const [rested, setRested] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setRested(true), 350);
    return () => clearTimeout(timer);
  }, []);
  // a mark set on another device comes in
  useEffect(() => setMarked(Boolean(state.acknowledged_at)), [state.acknowledged_at]);
  const records = () =>
    Object.fromEntries(Object.entries(typed).map(([key, text]) => [key, toValue(key as RecordKey, text ?? '')])) as StepState['records'];
  const text = (key: RecordKey) => typed[key] ?? String(state.records?.[key] ?? '');
  const store = (more: StepState) =>
    desk.save(step.key, { records: records(), ...(stop && reason.trim() !== '' ? { stop_reason: reason.trim() } : {}), ...more });
  const finish = async () => {
    if (await store({ done_at: now() })) {
      setTyped({});
      onDone();
    }
  };
  const blocked = (step.grave && !marked && !before) || (stop && reason.trim() === '');
  return { step, stop, reason, setReason, before, marked, setMarked, store, state, desk, text, setTyped, typed, blocked, rested, finish };
}
type Card = ReturnType<typeof useCard>;

/** One step: what to do, what to mind, what to write down, and a timer where something waits. */
export function StepCard(props: { desk: MountDesk; step: MountStep; onDone: () => void }) {
  const card = useCard(props);
  const { step, stop, reason, setReason, store, state, desk, text, setTyped, typed, blocked, rested, finish } = card;
  return (
    <section className="pt-5" aria-labelledby="step">
      <h2 id="step" className="text-verdict font-semibold">
        {STEP_NAMES[step.key]}
      </h2>
      {step.what.map((w) => (
        <p key={w} className="mt-1 text-name">
          {w}
        </p>
      ))}
      {stop && (
        <div className="mt-4 border-2 border-ember p-3">
          <p className="text-name font-semibold text-ember">Stop. {stop.message}</p>
          <TextBox label="Reason to go on anyway" className="min-h-12" value={reason} maxLength={500} onChange={setReason} />
        </div>
      )}
      {step.key === 'prepare' && <Cuts view={desk.view} />}
      {step.cautions.length > 0 && <Cautions card={card} />}
      {step.timer_min !== null && <Timer step={step} from={state.timer_from ?? null} onStart={() => void store({ timer_from: now() })} />}
      {TOOLS[step.key] && (
        <p className="mt-3">
          <a className="underline" href={`/tools/${TOOLS[step.key]?.tool}?mount=${desk.view.mount.id}`}>
            {TOOLS[step.key]?.words}
          </a>
        </p>
      )}
      {(step.key === 'take_apart' || step.key === 'reassemble') && (
        <TeardownTicks
          steps={desk.view.teardown}
          backwards={step.key === 'reassemble'}
          rigId={desk.view.mount.rig_id}
          ticks={state.ticks ?? []}
          onTick={(ticks) => void store({ ticks })}
        />
      )}
      {step.key === 'place' && desk.view.neighbours.length > 0 && (
        <InterfaceChoices
          neighbours={desk.view.neighbours}
          told={state.interfaces ?? {}}
          onTell={(name, how) => void store({ interfaces: { [name]: how } })}
        />
      )}
      {step.record.length > 0 && (
        <div className="mt-4 grid gap-3 sm:grid-cols-2">
          {step.record.map((key) => (
            <RecordBox
              key={key}
              name={key}
              value={text(key)}
              hint={hintOf(key, desk.view, text('part_a_mg'))}
              warning={warningOf(key, text(key), desk.view)}
              onChange={(value) => setTyped({ ...typed, [key]: value })}
              onLeave={() => typed[key] !== undefined && void store({})}
            />
          ))}
        </div>
      )}
      <Act className="mt-5 min-h-16 w-full text-name" disabled={Boolean(blocked) || !rested} onClick={() => void finish()}>
        {state.done_at ? 'Save and next step' : 'Next step'}
      </Act>
      {blocked && (
        <p className="mt-1 text-note text-soft">
          {stop && reason.trim() === '' ? 'A reason is needed to go on.' : 'Confirm the caution first.'}
        </p>
      )}
    </section>
  );
}

function hintOf(key: RecordKey, view: MountSheetView, partA: string): string | undefined {
  if (key === 'torque_nm') return view.torque_nm ? `the cooler asks for ${view.torque_nm} N·m` : undefined;
  if (key !== 'part_b_mg') return undefined;
  const a = toValue('part_a_mg', partA);
  const partner = typeof a === 'number' ? partnerOf(view.mixing_ratio ?? undefined, a) : null;
  return partner === null ? undefined : `${write(partner, partner < 10 ? 1 : 0)} mg go with ${write(a as number, 0)} mg of A`;
}

/** A sentence about what was typed that is stored all the same. */
function warningOf(key: RecordKey, text: string, view: MountSheetView): string | undefined {
  if (key === 'torque_nm') {
    const torque = toValue(key, text);
    return typeof torque === 'number' && view.torque_max_nm !== null && torque > view.torque_max_nm
      ? torqueSentence(torque, view.torque_max_nm)
      : undefined;
  }
  if ((key === 'heights' || key === 'heights_after') && text.trim() !== '') {
    const { readings } = readHeights(text);
    const odd = oddHeights(readings);
    if (odd.length > 0)
      return `Far from its neighbours: ${odd.map((o) => `${o.height_um} µm at ${o.x_mm}, ${o.y_mm} mm`).join('; ')}. Read again.`;
  }
  return undefined;
}

/** What was typed as it is stored; text that is no number is sent as it is, and refused with its sentence. */
function toValue(key: RecordKey, text: string): string | number | null {
  const plain = text.trim();
  if (plain === '') return null;
  if (RECORDS[key].kind !== 'number') return plain;
  const number = Number(plain.replace(',', '.').replace('−', '-'));
  return Number.isFinite(number) ? number : plain;
}

/** Counts down from its start, which is stored, so that it runs on with the page closed. */
function Timer({ step, from, onStart }: { step: MountStep; from: string | null; onStart: () => void }) {
  const [at, setAt] = useState<number | null>(null);
  useEffect(() => {
    setAt(Date.now());
    const timer = setInterval(() => setAt(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  const total = 60 * (step.timer_min ?? 0);
  const left = from === null || at === null ? total : total - (at - Date.parse(from)) / 1000;
  const two = (v: number) => String(v).padStart(2, '0');
  const whole = Math.max(0, Math.ceil(left));
  const potLife = step.key === 'prepare';
  return (
    <div className="mt-4 flex flex-wrap items-center gap-4">
      <span
        className={`figure text-figure leading-none ${left <= 0 && potLife ? 'text-ember' : ''}`}
        role="timer"
        aria-label={potLife ? 'Pot life left' : 'Time left'}
      >
        {two(Math.floor(whole / 3600))}:{two(Math.floor((whole % 3600) / 60))}:{two(whole % 60)}
      </span>
      {from === null ? (
        <Quiet className="min-h-12" onClick={onStart}>
          {potLife ? 'Mixed: the pot life begins' : 'Start the clock'}
        </Quiet>
      ) : left <= 0 ? (
        <p role="alert" className={`font-semibold ${potLife ? 'text-ember' : ''}`}>
          {potLife
            ? `The pot life of ${step.timer_min} min ran out: mix a new batch; the rest will not bond properly.`
            : 'It has waited long enough.'}
        </p>
      ) : (
        <TextButton onClick={onStart}>Start again</TextButton>
      )}
    </div>
  );
}

/** How the pieces are cut from their sheet, and what is wrong with them before they are cut. */
const Cuts = ({ view: { amounts, cuts } }: { view: MountSheetView }) => (
  <>
    {amounts
      .flatMap((a) => a.problems)
      .map((p) => (
        <p key={p} role="alert" className="mt-2 border-l-4 border-ember pl-3 font-semibold">
          {p} Look again before the cut.
        </p>
      ))}
    {cuts.map((c) => (
      <figure key={c.material} className="mt-3">
        <CutDrawing sheet={c.sheet} placed={c.placed} label={`Cuts on a sheet of ${c.material}`} />
        <figcaption className="text-note text-soft">
          {c.sets === 0
            ? `A sheet of ${c.material} (${c.sheet.length} × ${c.sheet.width} mm) is too small for all pieces of one mount.`
            : `A sheet of ${c.material} (${c.sheet.length} × ${c.sheet.width} mm) serves ${plural(c.sets, 'mount')}, cut so.`}
        </figcaption>
      </figure>
    ))}
  </>
);

/** What is dangerous here, to be marked as read. */
const Cautions = ({ card: { step, before, marked, setMarked, store } }: { card: Card }) => (
  <div className="mt-4 border-l-4 border-ember bg-leaf py-2 pr-3 pl-4">
    {step.cautions.map((c) => (
      <p key={c}>{c}</p>
    ))}
    <p className="text-note text-soft">Data sheet and local rules come first.</p>
    {before && <p className="mt-1 font-semibold">Confirmed earlier.</p>}
    {step.grave && !before && (
      <Tick
        hand
        words="I confirm"
        className="mt-2 min-h-12 font-semibold"
        checked={marked}
        onChange={(on) => {
          setMarked(on);
          void store({ acknowledged_at: on ? now() : null });
        }}
      />
    )}
  </div>
);
