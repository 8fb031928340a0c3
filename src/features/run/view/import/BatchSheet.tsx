import { useEffect, useMemo, useRef, useState } from 'react';
import type { LogOptions } from '#core/signal/logs/types';
import type { Reduction } from '#core/signal/reduce/types';
import { plural, write } from '#core/text/words';
import { type Match, matchFiles } from '#features/run/model/matchFiles';
import type { Places } from '#features/run/server/places';
import { Act, Field, Options, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { Scroll } from '#ui/Table.tsx';
import { useWorker } from '#ui/useWorker';
import type { Preview, PreviewApi } from './preview.worker';
import type { ImportContext } from './types';
import { layoutFor, useLayouts } from './useLayouts';
import { usePlaces } from './usePlaces';
import { useStore } from './useStore';

/** What became of a file: read, wrong, stored, or on its way. */
interface Row {
  file: File;
  importId: string;
  preview: Preview | null;
  layout_id: number | null;
  /** how it is read */
  reading: LogOptions;
  state: 'reading' | 'read' | 'storing' | 'stored' | 'refused';
  said: string | null;
  run_id: number | null;
}

/** Where a person put a file, over what was guessed. */
type Choice = Partial<Pick<Match, 'specimen_id' | 'mount_id'>> & { leave?: boolean };

/** Several runs dropped at once: each is read, matched to its mount by name and time, and stored when the table is confirmed. */
export function BatchSheet({ logs, context }: { logs: File[]; context: ImportContext }) {
  const places = usePlaces();
  const [studyId, setStudyId] = useState<number | null>(context.study_id ?? null);
  const [rigId, setRigId] = useState<number | null>(null);
  const [pattern, setPattern] = useState('');
  const [choices, setChoices] = useState<Record<string, Choice>>({});
  const rows = useRows(logs);
  const store = useStore();
  const [at, setAt] = useState<number | null>(null);
  const stopped = useRef(false);
  const data = places.data;
  const study = studyId ?? data?.studies.at(-1)?.id ?? null;
  const specimens = data?.specimens.filter((s) => s.study_id === study) ?? [];
  const mounts = data?.mounts.filter((m) => specimens.some((s) => s.id === m.specimen_id)) ?? [];
  const rig = rigId ?? mounts.at(-1)?.rig_id ?? data?.rigs[0]?.id ?? null;
  const guesses = useMemo(
    () =>
      matchFiles(
        rows.list.map((r) => ({ name: r.file.name, began: beganAt(r.preview) })),
        { specimens, mounts, at_mount: context.mount_id ?? null },
        pattern,
      ),
    [rows.list, specimens, mounts, pattern, context.mount_id],
  );
  const placed = rows.list.map((row, i) => ({ row, guess: guesses[i], ...guesses[i], ...choices[row.file.name] }));
  const toStore = placed.filter((p) => p.row.state === 'read' && !p.leave && p.specimen_id !== null);
  const open = placed.filter((p) => p.row.state === 'read' && !p.leave && p.specimen_id === null).length;

  const storeAll = async () => {
    stopped.current = false;
    // new mounts of a specimen that several files name by the same number are one mount
    const made = new Map<string, number>();
    for (const [i, p] of toStore.entries()) {
      if (stopped.current) break;
      setAt(i);
      rows.change(p.row.file, { state: 'storing', said: null });
      const key = `${p.specimen_id}/${p.mount_number ?? p.row.file.name}`;
      const mount_id = p.mount_id ?? made.get(key) ?? null;
      const plan = {
        ...{ import_id: p.row.importId, reading: p.row.reading, layout_id: p.row.layout_id },
        place: {
          study_id: study,
          specimen_id: p.specimen_id,
          mount_id,
          rig_id: data?.mounts.find((m) => m.id === mount_id)?.rig_id ?? rig,
        },
      };
      const stored = await store.send(plan, [p.row.file]);
      if (stored) {
        rows.change(p.row.file, { state: 'stored', run_id: stored.run_id });
        const listed: Places | null = mount_id === null ? await fetch('/api/places').then((r) => r.json()) : null;
        const mount = listed?.mounts.filter((m) => m.specimen_id === p.specimen_id).at(-1);
        if (mount) made.set(key, mount.id);
      } else rows.change(p.row.file, { state: 'refused' });
    }
    setAt(null);
  };
  // a refusal is said in the row it belongs to
  useEffect(() => {
    const refused = rows.list.find((r) => r.state === 'refused' && r.said === null);
    if (refused && store.told) rows.change(refused.file, { said: store.told });
  }, [store.told, rows]);
  const stop = () => {
    stopped.current = true;
    store.cancel();
  };
  const done = rows.list.filter((r) => r.state === 'stored').length;

  if (!data) return <p className="px-9 pt-4">{places.problem ?? 'Listing the studies…'}</p>;
  if (data.studies.length === 0) {
    return (
      <p className="max-w-2xl px-4 pt-4 text-name sm:px-9">
        There is no study yet that these runs could belong to. Start one and name its specimens, or drop one log alone: it opens its study
        with it.
      </p>
    );
  }
  return (
    <div className="flex flex-1 flex-col gap-5 px-4 pt-4 pb-12 sm:px-9">
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-3">
        <Field label="Study">
          {(p) => (
            <select {...p} className="field w-full" value={study ?? ''} onChange={(e) => setStudyId(Number(e.target.value))}>
              <Options choices={data.studies.map((s) => [s.id, s.title] as const)} />
            </select>
          )}
        </Field>
        <Field label="Rig of new mounts">
          {(p) => (
            <select {...p} className="field w-full" value={rig ?? ''} onChange={(e) => setRigId(Number(e.target.value))}>
              <Options choices={data.rigs.map((r) => [r.id, r.name] as const)} />
            </select>
          )}
        </Field>
        <TextBox
          label="How the files are named"
          hint="such as {specimen}_{mount}_{run}, * for anything; empty: found by itself"
          maxLength={120}
          value={pattern}
          onChange={setPattern}
        />
      </div>

      <Scroll label="Files and where they belong">
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink">
              <th className="py-1 pr-4">File</th>
              <th className="pr-4 text-right">Rise / K</th>
              <th className="pr-4">Specimen</th>
              <th className="pr-4">Mount</th>
              <th className="pr-4">Why</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {placed.map((p) => (
              <BatchRow
                key={p.row.file.name}
                row={p.row}
                guess={p.guess}
                placed={p}
                specimens={specimens}
                mounts={mounts}
                busy={at !== null}
                onChoice={(change) => setChoices((c) => ({ ...c, [p.row.file.name]: { ...c[p.row.file.name], ...change } }))}
              />
            ))}
          </tbody>
        </table>
      </Scroll>
      <div className="flex flex-wrap items-center gap-4">
        <Act disabled={at !== null || toStore.length === 0} onClick={() => void storeAll()}>
          Store {plural(toStore.length, 'run')}
        </Act>
        {at !== null && (
          <>
            <progress className="h-2 w-60 accent-[var(--ember)]" value={at} max={toStore.length} aria-label="Runs stored" />
            <span className="text-soft">
              {at + 1} of {toStore.length}
            </span>
            <Quiet onClick={stop}>Stop</Quiet>
          </>
        )}
        {at === null && open > 0 && (
          <span className="text-soft">
            {plural(open, 'file has', 'files have')} no place yet; choose a specimen, or leave {open === 1 ? 'it' : 'them'} out.
          </span>
        )}
        {at === null && done > 0 && (
          <span>
            {done} stored.{' '}
            <a className="underline" href={`/studies/${study}/runs`}>
              See the runs
            </a>
          </span>
        )}
      </div>
    </div>
  );
}

interface BatchRowProps {
  row: Row;
  guess: Match;
  placed: Match & Choice;
  specimens: Places['specimens'];
  mounts: Places['mounts'];
  busy: boolean;
  onChoice: (change: Choice) => void;
}

function BatchRow({ row, guess, placed, specimens, mounts, busy, onChoice }: BatchRowProps) {
  const of = mounts.filter((m) => m.specimen_id === placed.specimen_id);
  const settled = busy || row.state === 'stored';
  const changed = placed.specimen_id !== guess.specimen_id || placed.mount_id !== guess.mount_id;
  return (
    <tr className={`border-b border-rule ${placed.leave ? 'text-soft' : ''}`}>
      <td className="py-1.5 pr-4 font-semibold break-all">{row.file.name}</td>
      <td className="pr-4 text-right">
        <span className="figure">{riseOf(row.preview?.reduction ?? null)}</span>
        {row.preview?.reduction?.valid === false && <span className="block text-note font-semibold text-ember">not valid</span>}
      </td>
      <td className="py-0.5 pr-4">
        <select
          aria-label={`Specimen of ${row.file.name}`}
          className="field min-h-8 w-full"
          disabled={settled || placed.leave}
          value={placed.specimen_id ?? ''}
          onChange={(e) => onChoice({ specimen_id: e.target.value === '' ? null : Number(e.target.value), mount_id: null })}
        >
          <option value="">none yet</option>
          <Options choices={specimens.map((s) => [s.id, s.name] as const)} />
        </select>
      </td>
      <td className="py-0.5 pr-4">
        <select
          aria-label={`Mount of ${row.file.name}`}
          className="field min-h-8 w-full"
          disabled={settled || placed.leave || placed.specimen_id === null}
          value={placed.mount_id ?? ''}
          onChange={(e) => onChoice({ mount_id: e.target.value === '' ? null : Number(e.target.value) })}
        >
          <option value="">{placed.mount_number === null ? 'a new mount' : `a new mount (${placed.mount_number})`}</option>
          <Options choices={of.map((m) => [m.id, `Mount ${m.number}, ${m.rig}`] as const)} />
        </select>
      </td>
      <td className="max-w-xs py-1.5 pr-4 text-note text-soft">{changed ? 'chosen by hand' : guess.because}</td>
      <td className="py-1.5 text-note">
        <State row={row} left={placed.leave ?? false} onLeave={settled ? null : (leave) => onChoice({ leave })} />
      </td>
    </tr>
  );
}

function State({ row, left, onLeave }: { row: Row; left: boolean; onLeave: ((leave: boolean) => void) | null }) {
  if (row.state === 'reading') return <span className="text-soft">reading…</span>;
  if (row.state === 'storing') return <span>storing…</span>;
  if (row.state === 'stored') {
    return (
      <a className="underline" href={`/runs/${row.run_id}`}>
        stored
      </a>
    );
  }
  const problem = row.preview?.problem ?? (row.state === 'refused' ? row.said : null);
  return (
    <>
      {problem && <span className="block max-w-sm font-semibold text-ember">{problem}</span>}
      {onLeave && !row.preview?.problem && <Tick words="leave out" checked={left} onChange={onLeave} />}
    </>
  );
}

function riseOf(r: Reduction | null): string {
  if (r?.rise_k == null) return '–';
  return `${r.censored ? '≥ ' : ''}${write(r.rise_k, 1)}`;
}

/** When a log began, ms since 1970; a clock without a zone is the reader's own. */
function beganAt(preview: Preview | null): number | null {
  const time = preview?.logs[0]?.time;
  if (!time || time.start_epoch_s === null) return null;
  const ms = 1000 * time.start_epoch_s;
  return time.zoned ? ms : ms + 60_000 * new Date(ms).getTimezoneOffset();
}

/** The files of a batch, read one after the other, each by its layout where there is one. */
function useRows(files: File[]): { list: Row[]; change: (file: File, change: Partial<Row>) => void } {
  const { ask: worker } = useWorker<PreviewApi>('preview');
  const layouts = useLayouts();
  const [list, setList] = useState<Row[]>([]);
  const change = (file: File, part: Partial<Row>) => setList((rows) => rows.map((r) => (r.file === file ? { ...r, ...part } : r)));
  const begun = useRef(new Set<File>());
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows are begun when files come
  useEffect(() => {
    if (layouts === null) return;
    const fresh = files.filter((f) => !begun.current.has(f));
    for (const f of fresh) begun.current.add(f);
    setList((rows) => [
      ...rows,
      ...fresh.map(
        (file): Row => ({
          file,
          importId: crypto.randomUUID(),
          preview: null,
          layout_id: null,
          reading: {},
          state: 'reading',
          said: null,
          run_id: null,
        }),
      ),
    ]);
    const read = async () => {
      for (const file of fresh) {
        const ask = (reading: LogOptions, sensor: string | null) =>
          worker().preview({ files: [file], reading, options: { sensor }, offsets: {} });
        let preview = await ask({}, null);
        const layout = layoutFor(layouts, preview.logs[0]);
        if (layout) preview = await ask(layout.reading as LogOptions, layout.sensor);
        change(file, {
          preview,
          state: preview.problem ? 'refused' : 'read',
          layout_id: layout?.id ?? null,
          reading: (layout?.reading ?? {}) as LogOptions,
        });
      }
    };
    void read();
  }, [files, worker, layouts]);
  return { list, change };
}
