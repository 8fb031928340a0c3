import { Download, Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { ROLES, type Role } from '#core/signal/logs/types';
import { plural } from '#core/text/words';
import { decisionsOf, type Layout } from '#features/run/model/layout';
import type { LayoutView } from '#features/run/server/layouts';
import { saveText } from '#ui/exportChart';
import { Alert, Options, Quiet } from '#ui/Form.tsx';
import { send, sendJson } from '#ui/send';
import { useSeen } from '#ui/useSeen';

const HEADERS = { 'content-type': 'application/json' };
/** Largest file of layouts that is taken. */
const MOST_BYTES = 4 * 1024 * 1024;

/** What the layouts holds as it is worked on, and what follows from it. */
function useLayouts({ known }: { known: LayoutView[] }) {
  const [list, setList] = useState(known);
  const [told, setTold] = useState<string | null>(null);
  const [taken, setTaken] = useState<Layout | null>(null);
  const [open, setOpen] = useState<number | null>(null);
  const file = useRef<HTMLInputElement>(null);

  const take = async (picked: File | undefined) => {
    if (!picked) return;
    if (picked.size > MOST_BYTES)
      return setTold(`${picked.name} is larger than the ${MOST_BYTES / 1048576} MB that a file of log formats may have.`);
    const body = await picked.text();
    try {
      JSON.parse(body);
    } catch {
      return setTold(`${picked.name} is not a file of log formats: it is not JSON.`);
    }
    const answer = await send<{ layouts: LayoutView[] }>('/api/layouts', { method: 'POST', headers: HEADERS, body }, setTold);
    if (answer) setList(answer.layouts);
  };
  const remove = async (layout: LayoutView) => {
    const answer = await send<{ layouts: LayoutView[]; taken: Layout }>(`/api/layouts/${layout.id}`, { method: 'DELETE' }, setTold);
    if (!answer) return;
    setList(answer.layouts);
    setTaken(answer.taken);
  };
  const putBack = async () => {
    const answer = await sendJson<LayoutView>('POST', '/api/layouts', taken, setTold);
    if (!answer) return;
    setList([...list, answer].sort((a, b) => a.name.localeCompare(b.name)));
    setTaken(null);
  };
  const save = (layouts: LayoutView[], name: string) =>
    saveText(
      JSON.stringify({ layouts: layouts.map(({ name, headers, reading, sensor }) => ({ name, headers, reading, sensor })) }, null, 2),
      `${name}.json`,
      'application/json',
    );
  return { file, take, list, save, told, taken, putBack, open, setOpen, remove, setTold, setList };
}
type Layouts = ReturnType<typeof useLayouts>;

/** Layouts to rename, correct, delete, and share as a file. */
export function LayoutTable(props: { known: LayoutView[] }) {
  const layouts = useLayouts(props);
  const { list, told, taken, putBack } = layouts;
  return (
    <div className="mt-5">
      <LayoutFiles layouts={layouts} />
      <Alert className="mt-3 max-w-3xl">{told}</Alert>
      {taken && (
        <p role="status" className="mt-3 flex items-center gap-3">
          {taken.name} was deleted.
          <Quiet onClick={() => void putBack()}>Put it back</Quiet>
        </p>
      )}
      {list.length === 0 ? (
        <p className="section-rule mt-6 max-w-2xl text-name">
          No log format yet. Add a log, correct what a column is for, and tick “Always read files with these headers this way” before you
          store it.
        </p>
      ) : (
        <ul className="mt-5">
          {list.map((l) => (
            <LayoutItem key={l.id} layouts={layouts} l={l} />
          ))}
        </ul>
      )}
    </div>
  );
}

/** Name and roles of one layout. */
function LayoutForm({
  layout,
  onSaved,
  onTold,
}: {
  layout: LayoutView;
  onSaved: (layouts: LayoutView[]) => void;
  onTold: (sentence: string | null) => void;
}) {
  const [name, setName] = useState(layout.name);
  const [reading, setReading] = useState(layout.reading as Layout['reading']);
  const [sensor, setSensor] = useState(layout.sensor ?? '');
  const { seen, refused } = useSeen({ name: layout.name, reading: layout.reading, sensor: layout.sensor });
  const columns = Object.keys(reading.roles ?? {});
  const setRole = (column: string, role: Role | '') => {
    const { [column]: _, ...others } = reading.roles ?? {};
    setReading({ ...reading, roles: role === '' ? others : { ...others, [column]: role } });
  };
  const submit = async (e: { preventDefault: () => void }) => {
    e.preventDefault();
    const answer = await sendJson<{ layouts: LayoutView[] }>(
      'PUT',
      `/api/layouts/${layout.id}`,
      { name, reading, sensor: sensor.trim() === '' ? null : sensor.trim(), seen: seen() },
      onTold,
      refused,
    );
    if (answer) onSaved(answer.layouts);
  };
  return (
    <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-4" aria-label={`Edit ${layout.name}`}>
      <label>
        <span className="block font-semibold">Name</span>
        <input className="field w-64" maxLength={120} value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      {columns.map((column) => (
        <label key={column}>
          <span className="block font-semibold">{column}</span>
          <select className="field" value={reading.roles?.[column] ?? ''} onChange={(e) => setRole(column, e.target.value as Role | '')}>
            <option value="">as guessed</option>
            <Options choices={ROLES.map((r) => [r, r] as const)} />
          </select>
        </label>
      ))}
      <label>
        <span className="block font-semibold">Day and month</span>
        <select
          className="field"
          value={reading.day_first === undefined ? '' : String(reading.day_first)}
          onChange={(e) => setReading({ ...reading, day_first: e.target.value === '' ? undefined : e.target.value === 'true' })}
        >
          <option value="">as found</option>
          <option value="true">day first</option>
          <option value="false">month first</option>
        </select>
      </label>
      <label>
        <span className="block font-semibold">Judged by</span>
        <input
          className="field w-44"
          maxLength={200}
          value={sensor}
          onChange={(e) => setSensor(e.target.value)}
          placeholder="all sensors"
        />
      </label>
      <button type="submit" className="act">
        Save
      </button>
    </form>
  );
}

/** Takes layouts from a file and into one. */
const LayoutFiles = ({ layouts: { file, take, list, save } }: { layouts: Layouts }) => (
  <p className="flex flex-wrap items-center gap-2">
    <Quiet className="inline-flex items-center gap-2" onClick={() => file.current?.click()}>
      <Upload size={16} aria-hidden="true" /> Import log formats
    </Quiet>
    <input
      ref={file}
      type="file"
      accept=".json,application/json"
      className="sr-only"
      tabIndex={-1}
      aria-label="File of log formats"
      onChange={(e) => void take(e.target.files?.[0])}
    />
    {list.length > 0 && (
      <Quiet className="inline-flex items-center gap-2" onClick={() => save(list, 'layouts')}>
        <Download size={16} aria-hidden="true" /> Save all as JSON
      </Quiet>
    )}
  </p>
);

/** One layout with what was decided in it. */
const LayoutItem = ({ layouts: { open, setOpen, save, remove, setTold, setList }, l }: { layouts: Layouts; l: LayoutView }) => (
  <li className="section-rule mb-5">
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
      <h2 className="text-name font-semibold">{l.name}</h2>
      <span className="text-soft">
        {l.headers.length} columns · used {plural(l.used, 'time')}
      </span>
      <span className="ml-auto flex gap-2">
        <Quiet aria-expanded={open === l.id} onClick={() => setOpen(open === l.id ? null : l.id)}>
          Edit
        </Quiet>
        <Quiet onClick={() => save([l], l.name)} aria-label={`Save ${l.name} as JSON`}>
          JSON
        </Quiet>
        <Quiet onClick={() => void remove(l)} aria-label={`Delete ${l.name}`}>
          Delete
        </Quiet>
      </span>
    </div>
    <p>{decisionsOf(l as unknown as Layout).join(' · ') || 'guessed only'}</p>
    {open === l.id && (
      <LayoutForm
        layout={l}
        onTold={setTold}
        onSaved={(layouts) => {
          setList(layouts);
          setOpen(null);
        }}
      />
    )}
  </li>
);
