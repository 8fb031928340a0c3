import { Plus, Trash2 } from 'lucide-react';
import { TYPED_QUANTITIES } from '#core/signal/reduce/typedReading';
import { UNITS } from '#core/units/units';
import type { TypedAsked } from '#features/run/model/typedAsked';
import {
  TYPED_FIELDS,
  type TypedEvent,
  type TypedField,
  type TypedPart,
  type TypedValues,
  textProblem,
  typedReadings,
} from '#features/run/model/typedRun';
import { LadderFields } from '#features/run/view/LadderFields.tsx';
import { MACHINE_CAUTIONS } from '#features/shelf/model/cautions';
import type { LadderStep } from '#features/study/model/loads';
import { Quiet, TextArea, TextBox, Tick } from '#ui/Form.tsx';
import { useStopwatch } from '#ui/useStopwatch';

/** Unit that a field is kept in where none is typed. */
export const fieldUnit = (field: TypedField): string => {
  if (field === 'rise_k') return 'K';
  if (field === 'frame_rate' || field === 'slow_frame_rate') return 'frames/s';
  if (field === 'fan_rpm') return 'rpm or %';
  const { unit } = TYPED_QUANTITIES[field];
  return unit === null ? '' : UNITS[unit].symbol;
};

/** A field's name with its unit. */
export const fieldLabel = (field: TypedField): string => {
  const unit = fieldUnit(field);
  return unit ? `${TYPED_QUANTITIES[field].label} / ${unit}` : TYPED_QUANTITIES[field].label;
};

interface TypedFieldsProps {
  values: TypedValues;
  asked: TypedAsked;
  /** steps of the ladder that the chosen load is; null where it is none */
  ladder?: LadderStep[] | null;
  onValues: (values: TypedValues) => void;
}

/** What was read of one run: the readings that its study asks for, and all others behind one button. */
export function TypedFields({ values, asked, ladder = null, onValues }: TypedFieldsProps) {
  const { texts, throttled = 'unknown', note = '' } = values;
  const text = (field: TypedField) => (
    <ReadingBox
      key={field}
      field={field}
      text={texts[field] ?? ''}
      onText={(t) => onValues({ ...values, texts: { ...texts, [field]: t } })}
    />
  );
  const more = TYPED_FIELDS.filter((f) => ladder || !asked.fields.includes(f));
  return (
    <>
      {ladder && <LadderFields planned={ladder} tried={values.ladder ?? []} onTried={(tried) => onValues({ ...values, ladder: tried })} />}
      {!ladder && <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2 xl:grid-cols-3">{asked.fields.map(text)}</div>}
      {!ladder && <Parts values={values} asked={asked} onValues={onValues} />}
      {asked.events && <Events values={values} onValues={onValues} />}
      <fieldset className={ladder ? 'hidden' : 'flex flex-wrap items-center gap-x-5'}>
        <legend className="font-semibold">Did the part throttle?</legend>
        {(['no', 'yes', 'unknown'] as const).map((v) => (
          <Tick
            key={v}
            words={v === 'unknown' ? 'not known' : v}
            name="throttled"
            checked={throttled === v}
            onChange={() => onValues({ ...values, throttled: v })}
          />
        ))}
      </fieldset>
      <details open={more.some((f) => texts[f])}>
        <summary className="min-h-11 cursor-pointer py-2 font-semibold">More readings</summary>
        <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2 xl:grid-cols-3">{more.map(text)}</div>
        {!asked.events && <Events values={values} onValues={onValues} />}
      </details>
      <TextArea label="Note" maxLength={500} rows={2} value={note} onChange={(t) => onValues({ ...values, note: t })} />
    </>
  );
}

function ReadingBox({ field, text, onText }: { field: TypedField; text: string; onText: (text: string) => void }) {
  const problem = textProblem(field, text);
  const [reading] = problem === null ? Object.values(typedReadings({ [field]: text })) : [];
  const unit = field === 'fan_rpm' ? (/%\s*$/.test(text) ? '%' : 'rpm') : fieldUnit(field) === '°C' ? 'K' : fieldUnit(field);
  const step = reading ? Number((field === 'frame_time_s' ? 1000 * reading.resolution : reading.resolution).toPrecision(2)) : null;
  return (
    <TextBox
      label={fieldLabel(field)}
      error={problem ?? undefined}
      hint={step === null ? undefined : `read to ${step}${unit ? ` ${unit}` : ''}`}
      className="figure"
      inputMode="text"
      maxLength={60}
      value={text}
      onChange={onText}
    />
  );
}

/** Named parts with their temperatures: those with limits in the plan, and others by name. */
function Parts({ values, asked, onValues }: TypedFieldsProps) {
  const given = values.parts ?? [];
  const named = asked.parts.map((name): TypedPart => given.find((p) => p.name === name) ?? { name, text: '' });
  const others = given.filter((p) => !asked.parts.includes(p.name));
  const parts = [...named, ...others];
  const set = (i: number, part: TypedPart | null) => onValues({ ...values, parts: parts.flatMap((p, j) => (j === i ? (part ?? []) : p)) });
  return (
    <fieldset>
      <legend className="font-semibold">Parts or sensors by name</legend>
      <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2 xl:grid-cols-3">
        {parts.map((p, i) =>
          i < named.length ? (
            <TextBox
              key={p.name}
              label={`${p.name} / °C`}
              error={textProblem('mean_c', p.text ?? '') ?? undefined}
              className="figure"
              maxLength={60}
              value={p.text ?? ''}
              onChange={(text) => set(i, { ...p, text })}
            />
          ) : (
            // biome-ignore lint/suspicious/noArrayIndexKey: a part is told by its place while its name is typed
            <div key={i} className="flex items-end gap-2">
              <TextBox label="Part" maxLength={80} value={p.name} onChange={(name) => set(i, { ...p, name })} />
              <TextBox
                label="Reads / °C"
                error={textProblem('mean_c', p.text ?? '') ?? undefined}
                className="figure"
                maxLength={60}
                value={p.text ?? ''}
                onChange={(text) => set(i, { ...p, text })}
              />
              <Quiet aria-label={`Remove ${p.name || 'this part'}`} onClick={() => set(i, null)}>
                <Trash2 size={16} aria-hidden="true" />
              </Quiet>
            </div>
          ),
        )}
      </div>
      <Quiet
        className="mt-2 inline-flex items-center gap-1"
        onClick={() => onValues({ ...values, parts: [...parts, { name: '', text: '' }] })}
      >
        <Plus size={16} aria-hidden="true" /> Add part
      </Quiet>
    </fieldset>
  );
}

/** Events by the stopwatch, each reached or not. */
function Events({ values, onValues }: Pick<TypedFieldsProps, 'values' | 'onValues'>) {
  const events = values.events ?? [{ event: 'shut-off', time: '', reached: true }];
  const watch = useStopwatch();
  const set = (i: number, event: TypedEvent | null) =>
    onValues({ ...values, events: events.flatMap((e, j) => (j === i ? (event ?? []) : e)) });
  return (
    <fieldset className="mt-3">
      <legend className="font-semibold">Events by the stopwatch, from the start of the load</legend>
      <p className="max-w-2xl border-l-4 border-ember pl-3">{MACHINE_CAUTIONS.limit} Data sheet and local rules come first.</p>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <Quiet className="min-h-12" onClick={watch.isRunning ? watch.stop : watch.start}>
          {watch.isRunning ? 'Stop the watch' : 'Start the watch with the load'}
        </Quiet>
        {watch.text && (
          <span className="figure text-title" role="timer" aria-label="Since the load began">
            {watch.text}
          </span>
        )}
      </p>
      {events.map((e, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: an event is told by its place while its name is typed
        <div key={i} className="flex flex-wrap items-end gap-3 py-1">
          <TextBox label="Event" maxLength={80} value={e.event} onChange={(event) => set(i, { ...e, event })} />
          <TextBox
            label={e.reached ? 'Came after / s or min:s' : 'Not come after / s or min:s'}
            error={textProblem('run_time_s', e.time ?? '') ?? undefined}
            className="figure"
            maxLength={60}
            value={e.time ?? ''}
            onChange={(time) => set(i, { ...e, time })}
          />
          {watch.isRunning && (
            <button type="button" className="act min-h-12" onClick={() => set(i, { ...e, time: watch.text, reached: true })}>
              {e.event || 'It'} now
            </button>
          )}
          <Tick words="it came" checked={e.reached} onChange={(reached) => set(i, { ...e, reached })} />
          <Quiet aria-label={`Remove ${e.event || 'this event'}`} onClick={() => set(i, null)}>
            <Trash2 size={16} aria-hidden="true" />
          </Quiet>
        </div>
      ))}
      <Quiet
        className="mt-1 inline-flex items-center gap-1"
        onClick={() => onValues({ ...values, events: [...events, { event: '', time: '', reached: true }] })}
      >
        <Plus size={16} aria-hidden="true" /> Add event
      </Quiet>
    </fieldset>
  );
}
