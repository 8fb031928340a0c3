import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { write } from '#core/text/words';
import { KIND_NAMES, SPECIMEN_KINDS } from '#features/shelf/model/materials';
import type { ResolvedSpecimen } from '#features/study/model/resolve';
import { Field, Options, Quiet, TextButton } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Scroll } from '#ui/Table.tsx';
import { offerUndo } from '#ui/undo';
import { DeleteThing } from './DeleteThing.tsx';
import { SpecimenField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** The specimens of the study: what they are, what is supposed of them, and adding more from the shelf. */
export function SpecimenTable({ desk }: { desk: PlanDesk }) {
  const { specimens, said } = desk.resolved;
  const square = said.design === 'two_by_two';
  const states = said.design === 'before_after';
  const [deleting, setDeleting] = useState<number | null>(null);
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
                <th className={head}>Other differences</th>
                <th className={`${head} w-24`}>Expected ΔT / K</th>
                <th className={`${head} w-24`}>Mount scatter / K</th>
                <th className={`${head} w-24`}>Expected K/W</th>
                <th className={`${head} w-20`}>Wait / h</th>
                {states && <th className={head}>Cannot be mounted again</th>}
                <th className={head}>Late in day</th>
                <th className={`${head} text-right`}>Mounts</th>
                <th>
                  <span className="sr-only">Delete</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {specimens.map((s) => (
                <SpecimenRow key={s.id} s={s} desk={desk} square={square} states={states} onDelete={() => setDeleting(s.id)} />
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      {deleting !== null && (
        <DeleteThing key={deleting} kind="specimen" id={deleting} words="Delete …" isOpen onCancel={() => setDeleting(null)} />
      )}
      <AddSpecimen desk={desk} />
    </div>
  );
}

function measured(desk: PlanDesk, specimen: string): string {
  const known = desk.soFar.measured.find((m) => m.specimen === specimen);
  return known ? write(known.k_per_w, 3) : '';
}

/** The name of a specimen, to be changed where it stands. */
function NameOf({ desk, specimen }: { desk: PlanDesk; specimen: ResolvedSpecimen }) {
  const [typed, setTyped] = useState<string | null>(null);
  if (typed === null)
    return (
      <TextButton
        className="min-h-6 text-left font-semibold no-underline hover:underline"
        aria-label={`Rename ${specimen.name}`}
        onClick={() => setTyped(specimen.name)}
      >
        {specimen.name}
      </TextButton>
    );
  const rename = async () => {
    const name = typed.trim();
    if (name === specimen.name || name === '') return setTyped(null);
    const path = `/specimens/${specimen.id}`;
    if (!(await desk.act(path, { method: 'PUT', body: JSON.stringify({ name }) }))) return;
    offerUndo({
      words: `${specimen.name} is now called ${name}.`,
      ...{ method: 'PUT', url: `/api/studies/${desk.view.study_id}${path}`, body: { name: specimen.name } },
    });
    setTyped(null);
  };
  return (
    <form
      aria-label={`Rename ${specimen.name}`}
      className="flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void rename();
      }}
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: it was pressed to be changed
        autoFocus
        aria-label="New name"
        className="field w-44"
        maxLength={80}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && setTyped(null)}
      />
      <button type="submit" className="quiet">
        Rename
      </button>
    </form>
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

interface SpecimenRowProps {
  s: ResolvedSpecimen;
  desk: PlanDesk;
  square: boolean;
  states: boolean;
  onDelete: () => void;
}

/** One specimen with what is planned of it. */
const SpecimenRow = ({ s, desk, square, states, onDelete }: SpecimenRowProps) => (
  <tr className="border-b border-rule">
    <td className="py-1 pr-3">
      <span className="flex items-center gap-2">
        <SpecimenMark position={s.position} size={5.5} hollow={s.made === 0} />
        <span>
          <NameOf desk={desk} specimen={s} />
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
      <Quiet aria-label={`Delete ${s.name} …`} title="Delete" onClick={onDelete}>
        <Trash2 size={16} aria-hidden="true" />
      </Quiet>
    </td>
  </tr>
);
