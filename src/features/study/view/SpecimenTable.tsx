import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { write } from '#core/text/words';
import { KIND_NAMES, SPECIMEN_KINDS } from '#features/shelf/model/materials';
import type { ResolvedSpecimen } from '#features/study/model/resolve';
import { Field, Options, Quiet, TextButton } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Scroll } from '#ui/Table.tsx';
import { SpecimenField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** The specimens of the study: what they are, what is supposed of them, and adding more from the shelf. */
export function SpecimenTable({ desk }: { desk: PlanDesk }) {
  const { specimens, said } = desk.resolved;
  const square = said.design === 'two_by_two';
  const states = said.design === 'before_after';
  const head = 'py-1.5 pr-3 align-bottom';
  return (
    <div>
      {specimens.length > 0 && (
        <Scroll label="Specimens of the plan">
          <table className="w-full min-w-[980px]">
            <thead>
              <tr className="border-b border-ink">
                <th className={head}>Specimen</th>
                <th className={head}>Reference</th>
                {square && <th className={head}>First factor</th>}
                {square && <th className={head}>Second factor</th>}
                <th className={head}>Unit</th>
                <th className={head}>Differs besides in</th>
                <th className={`${head} w-24`}>Supposed rise / K</th>
                <th className={`${head} w-24`}>Mount scatter / K</th>
                <th className={`${head} w-24`}>Expected K/W</th>
                <th className={`${head} w-20`}>Wait / h</th>
                {states && <th className={head}>Cannot be mounted again</th>}
                <th className={head}>Late in day</th>
                <th className={`${head} text-right`}>Mounts</th>
                <th aria-label="Remove" />
              </tr>
            </thead>
            <tbody>
              {specimens.map((s) => (
                <SpecimenRow key={s.id} s={s} desk={desk} square={square} states={states} />
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      <AddSpecimen desk={desk} />
    </div>
  );
}

function measured(desk: PlanDesk, specimen: string): string {
  const known = desk.soFar.measured.find((m) => m.specimen === specimen);
  return known ? write(known.k_per_w, 3) : '';
}

function Remove({ desk, specimen }: { desk: PlanDesk; specimen: ResolvedSpecimen }) {
  if (specimen.made > 0) return null;
  return (
    <Quiet
      aria-label={`Take ${specimen.name} out of the study`}
      title="Take out of the study"
      onClick={() => {
        if (window.confirm(`Take ${specimen.name} out of the study? Its planned mounts go with it.`))
          void desk.act(`/specimens/${specimen.id}`, { method: 'DELETE', body: '{}' });
      }}
    >
      <Trash2 size={16} aria-hidden="true" />
    </Quiet>
  );
}

function AddSpecimen({ desk }: { desk: PlanDesk }) {
  const { materials, coolers } = desk.view.shelf;
  const taken = desk.view.context.specimens;
  const free = materials.filter((m) => !taken.some((s) => s.material?.id === m.id && !s.cooler));
  const freeCoolers = coolers.filter((c) => !taken.some((s) => s.cooler?.id === c.id && !s.material));
  const [sheet, setSheet] = useState('');
  const [name, setName] = useState('');
  const [kind, setKind] = useState('paste');
  const [busy, setBusy] = useState(false);
  const [section, id] = sheet.split(':');
  const body =
    section === 'materials' ? { material_id: Number(id), name } : section === 'coolers' ? { cooler_id: Number(id), name } : { name, kind };
  const add = async () => {
    setBusy(true);
    const done = await desk.act('/specimens', { method: 'POST', body: JSON.stringify(body) });
    setBusy(false);
    if (done) {
      setName('');
      setSheet('');
    }
  };
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void add();
      }}
    >
      <Field label="From the shelf">
        {(p) => (
          <select {...p} className="field block w-64" value={sheet} onChange={(e) => setSheet(e.target.value)}>
            <option value="">{materials.length + coolers.length === 0 ? 'nothing on the shelf yet' : 'not on the shelf'}</option>
            {free.length > 0 && (
              <optgroup label="Materials">
                <Options choices={free.map((m) => [`materials:${m.id}`, m.name] as const)} />
              </optgroup>
            )}
            {freeCoolers.length > 0 && (
              <optgroup label="Coolers">
                <Options choices={freeCoolers.map((c) => [`coolers:${c.id}`, c.name] as const)} />
              </optgroup>
            )}
          </select>
        )}
      </Field>
      <Field label={sheet ? 'Called otherwise' : 'Name'}>
        {(p) => <input {...p} className="field block w-56" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />}
      </Field>
      {!sheet && (
        <Field label="Kind">
          {(p) => (
            <select {...p} className="field block" value={kind} onChange={(e) => setKind(e.target.value)}>
              <Options choices={SPECIMEN_KINDS.map((k) => [k, KIND_NAMES[k]] as const)} />
            </select>
          )}
        </Field>
      )}
      <button type="submit" className={taken.length < 2 ? 'act' : 'quiet'} disabled={busy || (!sheet && name.trim() === '')}>
        Add the specimen
      </button>
      <a href="/shelf/materials/new" className="pb-2 underline decoration-soft">
        New sheet on the shelf
      </a>
    </form>
  );
}

/** One specimen with what is planned of it. */
const SpecimenRow = ({ s, desk, square, states }: { s: ResolvedSpecimen; desk: PlanDesk; square: boolean; states: boolean }) => (
  <tr className="border-b border-rule">
    <td className="py-1 pr-3">
      <span className="flex items-center gap-2">
        <SpecimenMark position={s.position} size={5.5} hollow={s.made === 0} />
        <span>
          <span className="font-semibold">{s.name}</span>
          <span className="block text-note text-soft">{KIND_NAMES[s.kind] ?? s.kind}</span>
          {!s.material && !s.cooler && s.kind !== 'state' && (
            <TextButton className="text-note" onClick={() => void desk.act(`/specimens/${s.id}`, { method: 'POST', body: '{}' })}>
              Put on the shelf
            </TextButton>
          )}
        </span>
      </span>
    </td>
    <td className="py-1 pr-3 text-center">
      <input
        type="radio"
        name="reference"
        className="size-5"
        aria-label={`${s.name} is the reference`}
        checked={desk.plan.reference_id === s.id}
        onChange={() => desk.set('reference_id', s.id)}
      />
    </td>
    {square && (
      <td className="w-28 py-1 pr-2">
        <SpecimenField desk={desk} specimen={s.id} field="level_a" />
      </td>
    )}
    {square && (
      <td className="w-28 py-1 pr-2">
        <SpecimenField desk={desk} specimen={s.id} field="level_b" />
      </td>
    )}
    <td className="w-28 py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="unit" otherwise="the rig’s" />
    </td>
    <td className="w-36 py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="differs" otherwise="nothing" />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="rise_k" otherwise="same" />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="mount_sd" otherwise={write(s.mount_sd, 2)} />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="k_per_w" otherwise={measured(desk, s.name)} />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="wait_h" otherwise={write(s.wait_h, s.wait_h % 1 === 0 ? 0 : 1)} />
    </td>
    {states && (
      <td className="py-1 pr-2">
        <SpecimenField
          desk={desk}
          specimen={s.id}
          field="fixed"
          otherwise={desk.plan.reference_id === s.id ? 'yes, the state before' : 'no'}
        />
      </td>
    )}
    <td className="py-1 pr-2">
      <SpecimenField
        desk={desk}
        specimen={s.id}
        field="last"
        otherwise={s.plan.last == null ? (s.last ? 'yes, by its sheet' : 'no') : 'by its sheet'}
      />
    </td>
    <td className="figure py-1 pr-2 text-right whitespace-nowrap">
      {s.mounts}
      {s.allowed !== null && <span className="block text-note text-soft">of {s.allowed}</span>}
    </td>
    <td className="py-1 text-right">
      <Remove desk={desk} specimen={s} />
    </td>
  </tr>
);
