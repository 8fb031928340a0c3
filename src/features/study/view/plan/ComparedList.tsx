import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { plural } from '#core/text/words';
import { KIND_NAMES, SPECIMEN_KINDS } from '#features/shelf/model/materials';
import { comparedNoun } from '#features/study/model/factors';
import type { ResolvedSpecimen } from '#features/study/model/resolve';
import { Field, Options, Quiet, TextButton } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { offerUndo } from '#ui/undo';
import { DeleteThing } from '../DeleteThing.tsx';
import type { PlanDesk } from './usePlan';

/** What the study compares: each with its mark, whether it is the reference, and the mounts planned of it; and adding more. */
export function ComparedList({ desk }: { desk: PlanDesk }) {
  const { specimens } = desk.resolved;
  const [deleting, setDeleting] = useState<number | null>(null);
  return (
    <div>
      {specimens.length > 0 && (
        <ul className="grid gap-x-8 sm:grid-cols-2" data-testid="compared">
          {specimens.map((s) => (
            <ComparedRow key={s.id} s={s} desk={desk} onDelete={() => setDeleting(s.id)} />
          ))}
        </ul>
      )}
      {deleting !== null && (
        <DeleteThing key={deleting} kind="specimen" id={deleting} words="Delete …" isOpen onCancel={() => setDeleting(null)} />
      )}
      <AddSpecimen desk={desk} />
    </div>
  );
}

interface ComparedRowProps {
  s: ResolvedSpecimen;
  desk: PlanDesk;
  onDelete: () => void;
}

const ComparedRow = ({ s, desk, onDelete }: ComparedRowProps) => (
  <li className="flex items-center gap-2.5 border-b border-rule py-1.5">
    <SpecimenMark position={s.position} size={5.5} hollow={s.made === 0} />
    <span className="min-w-0 flex-1">
      <NameOf desk={desk} specimen={s} />
      <span className="block text-note text-soft">
        {KIND_NAMES[s.kind] ?? s.kind} · {plural(s.mounts, 'mount')}
        {s.as_found ? ', as it was found' : s.allowed !== null && s.allowed <= s.mounts && ` of ${s.allowed} in stock`}
        {!s.material && !s.cooler && s.kind !== 'state' && (
          <>
            {' · '}
            <TextButton onClick={() => void desk.act(`/specimens/${s.id}`, { method: 'POST', body: '{}' })}>Add to the shelf</TextButton>
          </>
        )}
      </span>
    </span>
    <label className={`flex min-h-9 items-center gap-1.5 ${desk.plan.reference_id === s.id ? 'font-semibold' : 'text-soft'}`}>
      <input
        type="radio"
        name="reference"
        className="size-5"
        aria-label={`${s.name} is the reference`}
        checked={desk.plan.reference_id === s.id}
        onChange={() => desk.set('reference_id', s.id)}
      />
      <span className={desk.plan.reference_id === s.id ? '' : 'sr-only'}>reference</span>
    </label>
    <Quiet aria-label={`Delete ${s.name} …`} title="Delete" onClick={onDelete}>
      <Trash2 size={16} aria-hidden="true" />
    </Quiet>
  </li>
);

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
    if (!(await desk.act(path, { method: 'PUT', body: JSON.stringify({ name, seen: specimen.name }) }))) return;
    offerUndo({
      words: `${specimen.name} is now called ${name}.`,
      ...{ method: 'PUT', url: `/api/studies/${desk.view.study_id}${path}`, body: { name: specimen.name, seen: name } },
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

/** What a new one most likely is, by what varies. */
const FIRST_KIND: Record<string, string> = { cooler: 'cooler', state: 'state' };

function AddSpecimen({ desk }: { desk: PlanDesk }) {
  const { materials, coolers } = desk.view.shelf;
  const taken = desk.view.context.specimens;
  const free = materials.filter((m) => !taken.some((s) => s.material?.id === m.id && !s.cooler));
  const freeCoolers = coolers.filter((c) => !taken.some((s) => s.cooler?.id === c.id && !s.material));
  const [sheet, setSheet] = useState('');
  const [name, setName] = useState('');
  const [kind, setKind] = useState(FIRST_KIND[desk.resolved.said.varies] ?? 'paste');
  const [busy, setBusy] = useState(false);
  const [isOpen, setOpen] = useState(taken.length < 2);
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
  if (!isOpen)
    return (
      <Quiet className="mt-3" onClick={() => setOpen(true)}>
        Add another {comparedNoun(desk.resolved.said)}
      </Quiet>
    );
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
      <Field label={sheet ? 'Other name (optional)' : 'Name'}>
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
        Add {comparedNoun(desk.resolved.said)}
      </button>
      <a href="/shelf/materials/new" className="pb-2 underline decoration-soft">
        New sheet on the shelf
      </a>
    </form>
  );
}
