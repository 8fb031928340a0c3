import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { CONTACTS } from '#features/shelf/model/contacts';
import { MOST_PARTS, type RigPart } from '#features/shelf/model/rigParts';
import type { RigPartsView } from '#features/shelf/server/rigParts';
import { Act, Alert, Options, Quiet } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';

/** A part as it is typed. */
type Row = Record<Exclude<keyof RigPart, 'contact' | 'material_id'>, string> & { key: number; contact: string; material_id: string };
type Box = Exclude<keyof Row, 'key' | 'contact' | 'material_id'>;

const BOXES: { field: Box; label: string; wide?: boolean }[] = [
  { field: 'name', label: 'Part', wide: true },
  { field: 'length_mm', label: 'Length / mm' },
  { field: 'width_mm', label: 'Width / mm' },
  { field: 'count', label: 'How many' },
  { field: 'limit_c', label: 'Limit / °C' },
  { field: 'share_pct', label: 'Of the power / %' },
  { field: 'sensors', label: 'Sensors, by comma', wide: true },
];
const CUTS: { field: Box; label: string }[] = [
  { field: 'cut_length_mm', label: 'Cut length / mm' },
  { field: 'cut_width_mm', label: 'Cut width / mm' },
];

let next = 1;
const text = (v: unknown) => (v == null ? '' : String(v));
const toRow = (p: Partial<RigPart>): Row => ({
  key: next++,
  ...(Object.fromEntries([...BOXES, ...CUTS].map(({ field }) => [field, text(p[field])])) as Record<Box, string>),
  ...{ contact: p.contact ?? 'die', material_id: text(p.material_id) },
});
/** A number as typed; text that is none is sent as it is, and refused with its sentence. */
const number = (t: string) => (t.trim() === '' ? null : Number.isFinite(Number(t.replace(',', '.'))) ? Number(t.replace(',', '.')) : t);
const toPart = ({ key: _, name, sensors, contact, material_id, ...numbers }: Row) => ({
  ...Object.fromEntries(Object.entries(numbers).map(([field, t]) => [field, number(t)])),
  ...{ name: name.trim(), sensors: sensors.trim() || null, contact, material_id: material_id === '' ? null : Number(material_id) },
});

/** Parts of a rig under one cooler, each with its size, limit, sensors and what lies on it. */
export function RigPartsList({ initial }: { initial: RigPartsView }) {
  const [view, setView] = useState(initial);
  const [rows, setRows] = useState<Row[]>(() => initial.parts.map(toRow));
  const [told, setTold] = useState<string | null>(null);
  const [state, setState] = useState<'saved' | 'changed' | 'saving'>('saved');
  const change = (more: Row[]) => {
    setRows(more);
    setState('changed');
  };
  const put = (i: number, part: Partial<Row>) => change(rows.map((r, j) => (j === i ? { ...r, ...part } : r)));
  const save = async () => {
    setState('saving');
    const saved = await sendJson<RigPartsView>(
      'PUT',
      `/api/rigs/${view.rig.id}/parts`,
      { base: view.version, parts: rows.map(toPart) },
      setTold,
    );
    setState(saved ? 'saved' : 'changed');
    if (saved) setView(saved);
  };
  const box = (i: number, { field, label, wide }: { field: Box; label: string; wide?: boolean }) => (
    <label key={field} className={`text-note text-soft ${wide ? 'col-span-2' : ''}`}>
      {label}
      <input
        className={`field block w-full text-base text-ink ${wide ? '' : 'figure'}`}
        value={rows[i][field]}
        maxLength={field === 'sensors' ? 200 : 40}
        inputMode={wide ? undefined : 'decimal'}
        onChange={(e) => put(i, { [field]: e.target.value })}
      />
    </label>
  );
  return (
    <div className="pt-6">
      <h1 className="text-verdict font-semibold">Parts of {view.rig.name}</h1>
      <p className="mt-2 max-w-3xl text-soft">
        Chips, memory and regulators that share one cooler. Each is told by its own sensors, keeps its own limit, and can have its own
        material. Where the share of the power is said, its resistance is told too.{' '}
        <a href={`/shelf/rigs/${view.rig.id}`} className="underline">
          The rig’s sheet
        </a>
      </p>
      {rows.length === 0 && <p className="mt-4">One part only: the contact on the rig’s sheet.</p>}
      <ol className="mt-4">
        {rows.map((r, i) => (
          <li key={r.key} className="border-b border-rule py-3">
            <fieldset className="grid grid-cols-2 items-end gap-x-3 gap-y-2 md:grid-cols-6 xl:grid-cols-9">
              <legend className="sr-only">{r.name || `Part ${i + 1}`}</legend>
              {box(i, BOXES[0])}
              <label className="text-note text-soft">
                Contact
                <select
                  className="field block w-full text-base text-ink"
                  value={r.contact}
                  onChange={(e) => put(i, { contact: e.target.value })}
                >
                  <Options choices={Object.entries(CONTACTS)} />
                </select>
              </label>
              {BOXES.slice(1).map((b) => box(i, b))}
              <label className="col-span-2 text-note text-soft">
                On it lies
                <select
                  className="field block w-full text-base text-ink"
                  value={r.material_id}
                  onChange={(e) => put(i, { material_id: e.target.value })}
                >
                  <option value="">what is tested</option>
                  <Options choices={view.materials.map((m) => [String(m.id), m.name] as const)} />
                </select>
              </label>
              {CUTS.map((b) => box(i, b))}
              <Quiet
                className="justify-self-start"
                aria-label={`Take out ${r.name || `part ${i + 1}`}`}
                onClick={() => change(rows.filter((_, j) => j !== i))}
              >
                <X size={16} aria-hidden="true" />
              </Quiet>
            </fieldset>
          </li>
        ))}
      </ol>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <Quiet
          className="inline-flex min-h-12 items-center gap-1"
          disabled={rows.length >= MOST_PARTS}
          onClick={() => change([...rows, toRow({})])}
        >
          <Plus size={16} aria-hidden="true" /> A part
        </Quiet>
        <Act className="min-h-12" disabled={state !== 'changed'} onClick={() => void save()}>
          Save parts
        </Act>
        <span role="status">{state === 'saving' ? 'Saving …' : state === 'saved' && view.version > initial.version ? 'Saved.' : ''}</span>
      </div>
      <Alert>{told}</Alert>
    </div>
  );
}
