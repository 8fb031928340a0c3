import { useMemo, useRef, useState } from 'react';
import { parseReading, reduceTyped, TYPED_QUANTITIES, type TypedQuantity } from '#core/signal/reduce/typed';
import { UNITS } from '#core/units/units';
import type { RunPlace } from '#features/run/model/importPlan';
import { type TypedRun, typedProblem, typedReadings } from '#features/run/model/typedRun';
import { TextBox, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { PlaceForm } from './PlaceForm.tsx';
import { Sheet } from './Sheet.tsx';
import { type ImportContext, type RunChoices, reductionFor } from './types';
import { usePlaces } from './usePlaces';
import { useStore } from './useStore';
import { ValuePanel } from './ValuePanel.tsx';

const GROUPS: { name: string; fields: TypedQuantity[] }[] = [
  { name: 'Temperatures under load', fields: ['mean_c', 'max_c', 'hottest_c', 'coldest_c'] },
  { name: 'Before the load, and the room', fields: ['idle_c', 'room_c'] },
  { name: 'Load and fan', fields: ['power_w', 'clock_mhz', 'voltage_v', 'fan_rpm', 'noise_db'] },
  { name: 'What it got done', fields: ['score', 'frame_rate'] },
];

/** A run read from a display: each reading as it is seen, its last digit telling how finely it reads. */
export default function TypedSheet({ context, onClose }: { context: ImportContext; onClose: () => void }) {
  const [texts, setTexts] = useState<TypedRun['texts']>({});
  const [throttled, setThrottled] = useState<'yes' | 'no' | 'unknown'>('unknown');
  const [choices, setChoices] = useState<RunChoices>({
    ...{ sensor: null, room_c: null, room_u_k: null, limit_c: null, load: null, first: null },
    study_id: context.study_id ?? null,
  });
  const importId = useRef(crypto.randomUUID());
  const places = usePlaces();
  const store = useStore();
  const study = places.data?.studies.find((s) => s.id === choices.study_id);
  const readings = useMemo(() => typedReadings(texts), [texts]);
  const wrong = (Object.keys(TYPED_QUANTITIES) as TypedQuantity[]).some((q) => typeof parseReading(texts[q] ?? '', q) === 'string');
  const problem = typedProblem(readings);
  const reduction = useMemo(() => {
    const options = { ...reductionFor(study, choices.load), margin_k: study?.margin_k ?? 1, limit_c: choices.limit_c };
    return Object.keys(readings).length === 0 ? null : reduceTyped(readings, throttled === 'unknown' ? null : throttled === 'yes', options);
  }, [readings, throttled, study, choices.limit_c, choices.load]);

  const submit = async (place: RunPlace) => {
    const stored = await sendJson<{ run_id: number }>(
      'POST',
      '/api/typed-runs',
      { import_id: importId.current, place, texts, throttled, read_at: new Date().toISOString() },
      store.tell,
    );
    if (stored) window.location.assign(`/runs/${stored.run_id}`);
  };

  return (
    <Sheet title="A run read by hand" closeLabel="Put the readings away without storing" notice={null} onClose={onClose}>
      <div className="grid flex-1 gap-10 px-4 pt-4 pb-12 sm:px-9 lg:grid-cols-[minmax(0,1fr)_430px]">
        <div className="flex min-w-0 flex-col gap-5">
          <p className="max-w-2xl text-soft">
            Type what the display shows, with all its digits: the last one says how finely it reads. Other units may stand behind a number,
            and °C and °F together are held against each other, such as “71.2 °C / 160 °F”.
          </p>
          {GROUPS.map((g) => (
            // biome-ignore lint/a11y/useSemanticElements: the legend of a fieldset breaks the rule above it
            <div key={g.name} role="group" aria-label={g.name} className="section-rule">
              <h3 className="text-name font-semibold">{g.name}</h3>
              <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2 xl:grid-cols-4">
                {g.fields.map((q) => (
                  <Reading key={q} quantity={q} text={texts[q] ?? ''} onText={(text) => setTexts((t) => ({ ...t, [q]: text }))} />
                ))}
              </div>
            </div>
          ))}
          <fieldset className="flex flex-wrap items-center gap-x-5">
            <legend className="font-semibold">Did the part throttle?</legend>
            {(['no', 'yes', 'unknown'] as const).map((v) => (
              <Tick
                key={v}
                words={v === 'unknown' ? 'not known' : v}
                name="throttled"
                checked={throttled === v}
                onChange={() => setThrottled(v)}
              />
            ))}
          </fieldset>
        </div>
        <div className="flex flex-col gap-6">
          <ValuePanel preview={{ reduction }} busy={false} />
          <PlaceForm
            onChoices={setChoices}
            places={places}
            context={context}
            ready={problem === null && !wrong}
            wait={wrong ? 'once every reading can be read' : (problem ?? '')}
            store={store}
            onStore={submit}
          />
        </div>
      </div>
    </Sheet>
  );
}

function Reading({ quantity, text, onText }: { quantity: TypedQuantity; text: string; onText: (text: string) => void }) {
  const { label, unit } = TYPED_QUANTITIES[quantity];
  const read = parseReading(text, quantity);
  const digits = read !== null && typeof read !== 'string' ? Number(read.resolution.toPrecision(2)) : null;
  const symbol = unit === null ? (quantity === 'frame_rate' ? 'frames/s' : '') : UNITS[unit].symbol;
  const step = unit === 'degC' ? 'K' : symbol;
  return (
    <TextBox
      label={symbol ? `${label} / ${symbol}` : label}
      error={typeof read === 'string' ? read : undefined}
      hint={digits === null ? undefined : `read to ${digits}${step ? ` ${step}` : ''}`}
      className="figure"
      inputMode="text"
      maxLength={60}
      value={text}
      onChange={onText}
    />
  );
}
