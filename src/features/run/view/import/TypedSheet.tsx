import { useMemo, useRef, useState } from 'react';
import type { RunPlace } from '#features/run/model/importPlan';
import { ASKED_AT_FIRST, type TypedAsked } from '#features/run/model/typedAsked';
import {
  reduceValues,
  type TypedRemedy,
  type TypedValues,
  typedReadings,
  typedRemedies,
  valuesProblem,
  withoutEmpty,
} from '#features/run/model/typedRun';
import { Field, Quiet, Tick } from '#ui/Form.tsx';
import { Sheet } from '#ui/Sheet.tsx';
import { sendJson } from '#ui/send';
import { PlaceForm } from './PlaceForm.tsx';
import { Remedies } from './Remedies.tsx';
import { TypedFields } from './TypedFields.tsx';
import { TypedTableSheet } from './TypedTableSheet.tsx';
import { type ImportContext, localNow, type RunChoices, reductionFor } from './types';
import { usePlaces } from './usePlaces';
import { useStore } from './useStore';
import { ValuePanel } from './ValuePanel.tsx';

const NOTHING: TypedValues = { texts: {}, throttled: 'unknown' };

/** Readings from a display: one run, or a table of many. */
export default function TypedSheet({ context, onClose }: { context: ImportContext; onClose: () => void }) {
  const [many, setMany] = useState(false);
  if (many) return <TypedTableSheet context={context} onClose={onClose} onOne={() => setMany(false)} />;
  return <OneRun context={context} onClose={onClose} onMany={() => setMany(true)} />;
}

/** A run read from a display: each reading as it is seen, its last digit telling how finely it reads. */
function OneRun({ context, onClose, onMany }: { context: ImportContext; onClose: () => void; onMany: () => void }) {
  const [values, setValues] = useState<TypedValues>(NOTHING);
  const [at, setAt] = useState(localNow);
  const [remedy, setRemedy] = useState<TypedRemedy | null>(null);
  const [goesOn, setGoesOn] = useState(false);
  // the next run goes where this one did
  const [place, setPlace] = useState<{ context: ImportContext; stored: number }>({ context, stored: 0 });
  const [choices, setChoices] = useState<RunChoices>({
    ...{ sensor: null, room_c: null, room_u_k: null, limit_c: null, load: context.load ?? null, first: null },
    study_id: context.study_id ?? null,
  });
  const importId = useRef(crypto.randomUUID());
  const places = usePlaces(choices.study_id);
  const store = useStore();
  const study = places.data?.studies.find((s) => s.id === choices.study_id);
  // the load of the ladder, or the only one there is
  const ladder = study?.typed.ladders.find((l) => l.load === choices.load || (study.loads.length === 1 && study.loads[0] === l.load));
  const typed = useMemo(() => withoutEmpty(values), [values]);
  const problem = valuesProblem(values);
  const options = { ...reductionFor(study, choices.load), margin_k: study?.margin_k ?? 1, limit_c: choices.limit_c };
  const remedies = problem === null ? typedRemedies(typed, options) : [];
  const chosen = remedy && remedies.find((r) => r.words === remedy.words);
  const reduction = isAnything(typed) ? reduceValues(typed, { ...options, ...chosen?.options }) : null;

  const submit = async (where: RunPlace) => {
    const stored = await sendJson<{ run_id: number; study_id: number; specimen_id: number; mount_id: number }>(
      'POST',
      '/api/typed-runs',
      { ...typed, import_id: importId.current, place: where, read_at: new Date(at).toISOString(), study: chosen?.change },
      store.tell,
    );
    if (!stored) return;
    if (!goesOn) {
      window.location.assign(`/runs/${stored.run_id}`);
      return;
    }
    importId.current = crypto.randomUUID();
    const { study_id, specimen_id, mount_id } = stored;
    setPlace((p) => ({ context: { study_id, specimen_id, mount_id, load: where.load }, stored: p.stored + 1 }));
    // the room changes little from one run to the next
    setValues({ ...NOTHING, texts: { room_c: values.texts.room_c }, parts: values.parts?.map((p) => ({ name: p.name, text: '' })) });
    setRemedy(null);
    setAt(localNow());
    places.refresh();
  };

  return (
    <Sheet
      title="Enter readings"
      closeLabel="Close without saving the readings"
      notice={null}
      actions={<Quiet onClick={onMany}>A table of many runs</Quiet>}
      onClose={onClose}
    >
      <div className="grid flex-1 gap-10 px-4 pt-4 pb-12 sm:px-9 lg:grid-cols-[minmax(0,1fr)_430px]">
        <div className="flex min-w-0 flex-col gap-5">
          <p className="max-w-2xl text-soft">
            Enter what the display shows with all its digits: the last one gives the resolution. A unit may follow a number, °C and °F
            together are checked against each other (“71.2 °C / 160 °F”), and a range is accepted too (“2100–2400”).
          </p>
          <Field label="Read on">
            {(p) => (
              <input
                {...p}
                type="datetime-local"
                className="field figure"
                value={at}
                max={localNow()}
                onChange={(e) => setAt(e.target.value)}
              />
            )}
          </Field>
          <TypedFields
            values={values}
            asked={withParts(study?.typed ?? ASKED_AT_FIRST, choices.part_sensors ?? [])}
            ladder={ladder?.steps}
            onValues={setValues}
          />
        </div>
        <div className="flex flex-col gap-6">
          {place.stored > 0 && (
            <p role="status" className="font-semibold">
              {place.stored === 1 ? 'One run is saved' : `${place.stored} runs are saved`}; the next goes to the same mount.
            </p>
          )}
          <ValuePanel preview={{ reduction }} busy={false} rise={options.rise_wanted !== false && !ladder} />
          <Remedies remedies={remedies} chosen={chosen ?? null} onChoose={setRemedy} />
          <PlaceForm
            key={place.stored}
            onChoices={setChoices}
            places={places}
            context={place.context}
            ready={problem === null && at !== ''}
            wait={problem ?? 'Say when it was read.'}
            store={store}
            onStore={submit}
          >
            <Tick words="Then enter the next run of this mount" checked={goesOn} onChange={setGoesOn} />
          </PlaceForm>
        </div>
      </div>
    </Sheet>
  );
}

/** What is asked, with the parts of the rig that it stands on. */
const withParts = (asked: TypedAsked, sensors: string[]): TypedAsked => ({ ...asked, parts: [...new Set([...asked.parts, ...sensors])] });

const isAnything = (values: TypedValues): boolean =>
  Object.keys(typedReadings(values.texts)).length > 0 ||
  (values.parts ?? []).length > 0 ||
  (values.events ?? []).length > 0 ||
  (values.ladder ?? []).length > 0;
