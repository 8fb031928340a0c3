import { ArrowDown, ArrowUp, Camera, Plus, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { write } from '#core/text/words';
import type { TeardownView } from '#features/mount/server/teardown';
import { type TeardownStep, teardownMinutes } from '#features/shelf/model/teardown';
import { Act, Alert, Quiet } from '#ui/Form.tsx';
import { send, sendJson } from '#ui/send';
import { Figure } from '#ui/Words.tsx';

/** A step as it is typed. */
interface Row {
  key: number;
  what: string;
  screws: string;
  screw_mm: string;
  place: string;
  connectors: string;
  tool: string;
  minutes: string;
  photograph: number | null;
}

let next = 1;
const text = (v: number | null | undefined) => (v == null ? '' : String(v));
const toRow = (s: Partial<TeardownStep>): Row => ({
  key: next++,
  ...{ what: s.what ?? '', screws: text(s.screws), screw_mm: text(s.screw_mm), place: s.place ?? '' },
  ...{ connectors: s.connectors ?? '', tool: s.tool ?? '', minutes: text(s.minutes), photograph: s.photograph ?? null },
});
/** A number as typed; text that is none is sent as it is, and refused with its sentence. */
const number = (t: string) => (t.trim() === '' ? null : Number.isFinite(Number(t.replace(',', '.'))) ? Number(t.replace(',', '.')) : t);
const toStep = (r: Row) => ({
  ...{ what: r.what.trim(), screws: number(r.screws), screw_mm: number(r.screw_mm), place: r.place.trim() },
  ...{ connectors: r.connectors.trim(), tool: r.tool.trim(), minutes: number(r.minutes), photograph: r.photograph },
});

/** What the teardown holds as it is worked on, and what follows from it. */
function useTeardown({ initial }: { initial: TeardownView }) {
  const [view, setView] = useState(initial);
  const [rows, setRows] = useState<Row[]>(() => (initial.steps.length > 0 ? initial.steps.map(toRow) : [toRow({})]));
  const [told, setTold] = useState<string | null>(null);
  const [state, setState] = useState<'saved' | 'changed' | 'saving'>('saved');
  const change = (more: Row[]) => {
    setRows(more);
    setState('changed');
  };
  useEffect(() => {
    const leave = (e: BeforeUnloadEvent) => state === 'changed' && e.preventDefault();
    window.addEventListener('beforeunload', leave);
    return () => window.removeEventListener('beforeunload', leave);
  }, [state]);
  const put = (i: number, part: Partial<Row>) => change(rows.map((r, j) => (j === i ? { ...r, ...part } : r)));
  const move = (i: number, by: number) => {
    const more = [...rows];
    const [row] = more.splice(i, 1);
    more.splice(i + by, 0, row);
    change(more);
  };
  const photograph = async (i: number, file: File | undefined) => {
    if (!file) return;
    const form = new FormData();
    form.set('photo', file, file.name);
    form.set('about', JSON.stringify({ who: localStorage.getItem('initials') ?? '', caption: rows[i].what.slice(0, 200) }));
    const saved = await send<{ id: number }>(`/api/rigs/${view.rig.id}/photographs`, { method: 'POST', body: form }, setTold);
    if (saved) put(i, { photograph: saved.id });
  };
  const save = async () => {
    setState('saving');
    const steps = rows.filter((r) => r.what.trim() !== '' || r.screws || r.tool || r.minutes).map(toStep);
    const saved = await sendJson<TeardownView>('PUT', `/api/rigs/${view.rig.id}/teardown`, { base: view.version, steps }, setTold);
    setState(saved ? 'saved' : 'changed');
    if (saved) setView(saved);
  };
  const minutes = teardownMinutes(rows.map(toStep).filter((s) => typeof s.minutes === 'number') as TeardownStep[]);
  const screws = rows.reduce((sum, r) => sum + (Number(r.screws) || 0), 0);
  const box = (i: number, field: keyof Omit<Row, 'key' | 'photograph'>, label: string, wide = '') => (
    <label className={`text-note text-soft ${wide}`}>
      {label}
      <input
        className="field block w-full text-base text-ink"
        value={rows[i][field]}
        maxLength={field === 'what' ? 200 : 120}
        inputMode={['screws', 'screw_mm', 'minutes'].includes(field) ? 'decimal' : undefined}
        onChange={(e) => put(i, { [field]: e.target.value })}
      />
    </label>
  );
  return { view, minutes, screws, rows, box, photograph, move, change, state, save, initial, told };
}
type Teardown = ReturnType<typeof useTeardown>;

/** How a rig is taken apart: in order, with screws, connectors, tools, minutes and photographs; read backwards it is put together. */
export function TeardownList(props: { initial: TeardownView }) {
  const teardown = useTeardown(props);
  const { view, minutes, screws, rows, change, state, save, initial, told } = teardown;
  return (
    <div className="pt-6">
      <h1 className="text-verdict font-semibold">Taking {view.rig.name} apart</h1>
      <p className="mt-1 flex flex-wrap items-end gap-x-6">
        <span>
          <Figure value={minutes === null ? '–' : write(minutes, minutes % 1 === 0 ? 0 : 1)} unit="min" size="name" /> to open, about as
          long to close
        </span>
        <span>
          <Figure value={String(screws)} unit={screws === 1 ? 'screw' : 'screws'} size="name" />
        </span>
        <a href={`/shelf/rigs/${view.rig.id}`} className="underline">
          The rig’s sheet
        </a>
      </p>
      <p className="mt-2 max-w-3xl text-soft">
        Mains and battery off first. In a mount the list is ticked off in this order, and in reverse as the checklist for reassembly. Its
        minutes count in the study’s effort.
      </p>
      <ol className="mt-4 border-t border-ink">
        {rows.map((r, i) => (
          <TeardownRow key={r.key} teardown={teardown} r={r} i={i} />
        ))}
      </ol>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <Quiet
          className="inline-flex min-h-12 items-center gap-1"
          disabled={rows.length >= 60}
          onClick={() => change([...rows, toRow({})])}
        >
          <Plus size={16} aria-hidden="true" /> A step
        </Quiet>
        <Act className="min-h-12" disabled={state !== 'changed'} onClick={() => void save()}>
          Save list
        </Act>
        <span role="status">{state === 'saving' ? 'Saving …' : state === 'saved' && view.version > initial.version ? 'Saved.' : ''}</span>
      </div>
      <Alert>{told}</Alert>
    </div>
  );
}

/** One step, with its place in the list and its photograph. */
const TeardownRow = ({ teardown: { box, photograph, move, rows, change }, r, i }: { teardown: Teardown; r: Row; i: number }) => (
  <li className="border-b border-rule py-3">
    <div className="grid grid-cols-[2rem_minmax(0,1fr)] gap-x-2">
      <span className="figure pt-6 text-name font-semibold">{i + 1}</span>
      <div className="grid grid-cols-2 gap-x-3 gap-y-1 md:grid-cols-[2.4fr_4rem_4.5rem_1.6fr_1.4fr_1fr_4.5rem_auto]">
        {box(i, 'what', 'What is removed or opened', 'max-md:col-span-2')}
        {box(i, 'screws', 'Screws')}
        {box(i, 'screw_mm', 'Long / mm')}
        {box(i, 'place', 'Place')}
        {box(i, 'connectors', 'Connectors')}
        {box(i, 'tool', 'Tool')}
        {box(i, 'minutes', 'Minutes')}
        <span className="flex items-end gap-1">
          {r.photograph && (
            <img
              src={`/api/photographs/${r.photograph}?small`}
              alt={`Step ${i + 1}`}
              className="h-9 w-12 border border-rule object-cover"
            />
          )}
          <label className="quiet inline-flex cursor-pointer items-center focus-within:outline-2" title="Photograph of this step">
            <Camera size={16} aria-hidden="true" />
            <input
              type="file"
              className="sr-only"
              accept="image/jpeg,image/png,image/webp"
              aria-label={`Photograph of step ${i + 1}`}
              onChange={(e) => void photograph(i, e.target.files?.[0])}
            />
          </label>
          <Quiet className="px-2" aria-label={`Move step ${i + 1} up`} disabled={i === 0} onClick={() => move(i, -1)}>
            <ArrowUp size={16} aria-hidden="true" />
          </Quiet>
          <Quiet className="px-2" aria-label={`Move step ${i + 1} down`} disabled={i === rows.length - 1} onClick={() => move(i, 1)}>
            <ArrowDown size={16} aria-hidden="true" />
          </Quiet>
          <Quiet className="px-2" aria-label={`Take out step ${i + 1}`} onClick={() => change(rows.filter((_, j) => j !== i))}>
            <X size={16} aria-hidden="true" />
          </Quiet>
        </span>
      </div>
    </div>
  </li>
);
