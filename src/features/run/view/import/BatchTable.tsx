import { Fragment, useRef, useState } from 'react';
import type { Finding } from '#core/compare/types';
import { plural, write } from '#core/text/words';
import type { BatchChoice, BatchFile, BatchPlace } from '#features/run/model/batch';
import { findingName } from '#ui/FindingList.tsx';
import { Quiet, TextButton } from '#ui/Form.tsx';
import { writeMoment } from '#ui/moments';
import { Scroll } from '#ui/Table.tsx';
import { type Batch, type BatchRow, isLeft } from './useBatch';

/** A file with the place it was given. */
export interface PlacedRow {
  file: BatchFile;
  row: BatchRow;
  place: BatchPlace;
  /** what files without a mount in their names are taken for */
  numbered: 'mounts' | 'runs';
}

interface BatchTableProps {
  placed: PlacedRow[];
  batch: Batch;
  isBusy: boolean;
  /** specimens that the study has */
  known: string[];
  /** the mount there is at a file's place */
  mountOf: (p: PlacedRow) => { number: number; rig: string; runs: number } | undefined;
  onPlace: (keys: string[], change: BatchChoice) => void;
  /** moves the run that rests on a file already to the file's place */
  onMove: (p: PlacedRow) => Promise<void>;
}

/** The files by what they measured and by mount; several that are ticked are placed or left out together. */
export function BatchTable({ placed, batch, isBusy, known, mountOf, onPlace, onMove }: BatchTableProps) {
  const [ticked, setTicked] = useState<string[]>([]);
  const lastTick = useRef<string | null>(null);
  const bar = useRef<HTMLInputElement>(null);
  const order = placed.map((p) => p.row.key);
  const tick = (key: string, withShift: boolean) => {
    const from = lastTick.current === null ? -1 : order.indexOf(lastTick.current);
    const to = order.indexOf(key);
    lastTick.current = key;
    if (withShift && from >= 0) {
      const range = order.slice(Math.min(from, to), Math.max(from, to) + 1);
      setTicked((t) => [...new Set([...t, ...range])]);
      // whoever picks a range names it next
      requestAnimationFrame(() => bar.current?.focus());
    } else setTicked((t) => (t.includes(key) ? t.filter((k) => k !== key) : [...t, key]));
  };
  const groups = [...new Set(placed.map((p) => p.place.specimen))].map((name) => ({
    name,
    rows: placed.filter((p) => p.place.specimen === name),
  }));
  const clear = () => {
    setTicked([]);
    lastTick.current = null;
  };
  return (
    <div>
      <Scroll label="Files and where they belong">
        <table className="w-full max-sm:block">
          <thead className="max-sm:hidden">
            <tr className="border-b border-ink text-note">
              <th className="w-8">
                <span className="sr-only">Choose</span>
              </th>
              <th className="py-1 pr-4">File</th>
              <th className="pr-4 max-sm:hidden">Began</th>
              <th className="pr-4 text-right whitespace-nowrap">ΔT / K</th>
              <th className="pr-4">Mount</th>
              <th className="pr-4">What was noticed</th>
              <th>
                <span className="sr-only">State</span>
              </th>
            </tr>
          </thead>
          <tbody className="max-sm:block">
            {groups.map(({ name, rows }) => (
              <Fragment key={name ?? ''}>
                <GroupHead
                  name={name}
                  isNew={name !== null && !known.includes(name)}
                  rows={rows}
                  isBusy={isBusy}
                  ticked={rows.every((p) => ticked.includes(p.row.key))}
                  onTick={(on) => {
                    const keys = rows.map((p) => p.row.key);
                    setTicked((t) => (on ? [...new Set([...t, ...keys])] : t.filter((k) => !keys.includes(k))));
                  }}
                  onName={(specimen) =>
                    onPlace(
                      rows.map((p) => p.row.key),
                      { specimen },
                    )
                  }
                />
                {rows.map((p) => (
                  <FileRow
                    key={p.row.key}
                    placed={p}
                    isBusy={isBusy}
                    ticked={ticked.includes(p.row.key)}
                    mount={mountOf(p)}
                    onTick={(shift) => tick(p.row.key, shift)}
                    onMount={(mount) => onPlace([p.row.key], { mount })}
                    onLeave={(leave) => batch.change(p.row.key, { leave })}
                    onMove={known.includes(p.place.specimen ?? '') ? () => onMove(p) : null}
                  />
                ))}
              </Fragment>
            ))}
          </tbody>
        </table>
      </Scroll>
      {ticked.length > 0 && !isBusy && (
        <TickedBar
          count={ticked.length}
          field={bar}
          names={[...new Set([...known, ...groups.flatMap((g) => g.name ?? [])])]}
          onPlace={(change) => {
            onPlace(ticked, change);
            clear();
          }}
          onLeave={(leave) => {
            batch.changeAll(ticked, () => ({ leave }));
            clear();
          }}
          onClear={clear}
        />
      )}
    </div>
  );
}

interface GroupHeadProps {
  name: string | null;
  isNew: boolean;
  rows: PlacedRow[];
  isBusy: boolean;
  ticked: boolean;
  onTick: (on: boolean) => void;
  onName: (name: string | null) => void;
}

/** What was measured, with the name it will have. */
function GroupHead({ name, isNew, rows, isBusy, ticked, onTick, onName }: GroupHeadProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const kept = rows.filter((p) => !isLeft(p.row) && !p.row.preview?.problem);
  const mounts = new Set(kept.map((p) => p.place.mount)).size;
  const take = () => {
    const next = (typed ?? '').trim();
    setTyped(null);
    if (typed !== null && next !== (name ?? '')) onName(next === '' ? null : next);
  };
  const locked = isBusy || rows.some((p) => p.row.state === 'stored');
  return (
    <tr className="border-b border-rule max-sm:grid max-sm:grid-cols-[2rem_minmax(0,1fr)]">
      <td className="pt-3 align-middle">
        <input
          type="checkbox"
          disabled={isBusy}
          aria-label={`Choose all files of ${name ?? 'what has no name yet'}`}
          checked={ticked}
          onChange={(e) => onTick(e.target.checked)}
        />
      </td>
      <td colSpan={6} className="pt-3 pb-1">
        <span className="flex flex-wrap items-baseline gap-x-3">
          {name !== null && (!isNew || locked) ? (
            <span className="text-title font-semibold">{name}</span>
          ) : (
            <input
              aria-label={name === null ? 'Name of what these files measured' : `Name of ${name}`}
              className="field min-w-0 text-name font-semibold sm:w-72"
              placeholder="not named yet"
              maxLength={80}
              value={typed ?? name ?? ''}
              onChange={(e) => setTyped(e.target.value)}
              onBlur={take}
              onKeyDown={(e) => {
                if (e.key === 'Enter') take();
              }}
            />
          )}
          <span className="text-soft">
            {name === null
              ? plural(rows.length, 'file')
              : kept.length === 0
                ? 'nothing to store'
                : `${plural(kept.length, 'run')} on ${plural(mounts, 'mount')}`}
            {name !== null && !isNew && ', in this study already'}
          </span>
        </span>
      </td>
    </tr>
  );
}

interface FileRowProps {
  placed: PlacedRow;
  isBusy: boolean;
  ticked: boolean;
  mount: { number: number; rig: string; runs: number } | undefined;
  onTick: (withShift: boolean) => void;
  onMount: (mount: number) => void;
  onLeave: (leave: boolean) => void;
  onMove: (() => Promise<void>) | null;
}

function FileRow({ placed: { row, place, numbered }, isBusy, ticked, mount, onTick, onMount, onLeave, onMove }: FileRowProps) {
  const left = isLeft(row);
  const settled = isBusy || row.state === 'stored';
  const rise = row.preview?.reduction ?? null;
  return (
    <tr className={`border-b border-rule max-sm:grid max-sm:grid-cols-[2rem_minmax(0,1fr)_auto] max-sm:py-1 ${left ? 'text-soft' : ''}`}>
      <td>
        <input
          type="checkbox"
          disabled={settled}
          aria-label={`Choose ${row.name}`}
          checked={ticked}
          onClick={(e) => onTick(e.shiftKey)}
          onChange={() => {}}
        />
      </td>
      <td className="py-1 pr-4 break-all max-sm:col-span-2" title={place.because}>
        {row.folder && <span className="text-note text-soft">{row.folder}/</span>}
        {row.name}
      </td>
      <td className="pr-4 text-note whitespace-nowrap text-soft max-sm:hidden">
        {row.began === null ? '' : writeMoment(new Date(row.began))}
      </td>
      <td className="pr-4 text-right max-sm:col-start-2 max-sm:text-left">
        <span className={`figure ${rise && !rise.valid ? 'text-soft line-through' : 'font-semibold'}`}>
          {rise?.rise_k == null ? '–' : `${rise.censored ? '≥ ' : ''}${write(rise.rise_k, 1)}`}
        </span>
        <span className="sm:hidden"> K</span>
      </td>
      <td className="py-0.5 pr-4 whitespace-nowrap">
        {place.specimen !== null && (
          <>
            <span className="mr-2 text-note sm:hidden">mount</span>
            <input
              aria-label={`Mount of ${row.name}`}
              className="field figure min-h-7 w-16 py-0.5"
              type="number"
              min={1}
              max={100_000}
              disabled={settled || left}
              value={place.mount ?? ''}
              onChange={(e) => {
                const n = Number(e.target.value);
                if (Number.isInteger(n) && n >= 1) onMount(n);
              }}
            />
            <span className="ml-2 text-note text-soft">{mount ? `on ${mount.rig}, ${plural(mount.runs, 'run')} so far` : 'new'}</span>
            {!mount && numbered === 'runs' && place.run !== null && <span className="text-note text-soft">, run {place.run}</span>}
          </>
        )}
      </td>
      <td className="max-w-sm py-1 pr-4 text-note max-sm:col-start-2">
        {place.isGuessed && !left && <span className="block font-semibold text-ember">Placed by a guess: {place.because}</span>}
        <Noticed row={row} onMove={settled ? null : onMove} />
      </td>
      <td className="py-1 text-right text-note whitespace-nowrap max-sm:col-start-3">
        {row.state === 'reading' && <span className="text-soft">reading…</span>}
        {row.state === 'storing' && 'storing…'}
        {row.state === 'stored' && (
          <a className="underline" href={`/runs/${row.run_id}`}>
            {row.said ?? 'stored'}
          </a>
        )}
        {(row.state === 'read' || row.state === 'refused') && !isBusy && !row.known && (
          <TextButton className="min-h-7" aria-label={`${left ? 'Take' : 'Leave out'} ${row.name}`} onClick={() => onLeave(!left)}>
            {left ? 'Include' : 'Leave out'}
          </TextButton>
        )}
      </td>
    </tr>
  );
}

/** What stands in the way of a run, or makes it doubtful, before anything is stored. */
function Noticed({ row, onMove }: { row: BatchRow; onMove: (() => Promise<void>) | null }) {
  const problem = row.preview?.problem ?? (row.state === 'refused' ? row.said : null);
  if (problem) return <span className="font-semibold text-ember">{problem}</span>;
  if (row.known && row.state !== 'stored')
    return (
      <span>
        <span className="font-semibold text-ember">Stored already:</span>{' '}
        <a className="underline" href={`/runs/${row.known.run_id}`}>
          {row.known.run}
        </a>
        {row.said && <span className="block text-ember">{row.said}</span>}
        {onMove && (
          <Quiet className="ml-2 min-h-8" onClick={() => void onMove()}>
            Move that run here
          </Quiet>
        )}
      </span>
    );
  if (row.twin) return <span className="font-semibold text-ember">The same bytes as {row.twin}: a log counts once</span>;
  const r = row.preview?.reduction;
  if (!r) return null;
  const grave = r.findings.filter((f) => f.severity === 'reject' || f.severity === 'decide');
  const mild = r.findings.filter((f) => f.severity === 'warn' && !grave.includes(f));
  if (grave.length + mild.length === 0) return r.valid ? null : <span className="font-semibold text-ember">not valid</span>;
  return (
    <details>
      <summary className="cursor-pointer">
        {grave.length > 0 && (
          <span className="font-semibold text-ember">
            {namesOf(grave)}
            {r.valid ? '' : r.findings.some((f) => f.severity === 'reject') ? ': not valid' : ': needs your decision'}
          </span>
        )}
        {grave.length > 0 && mild.length > 0 && ' · '}
        {mild.length > 0 && namesOf(mild)}
      </summary>
      {[...grave, ...mild].map((f) => (
        <p key={f.code + f.message} className="text-soft">
          {f.message}
        </p>
      ))}
    </details>
  );
}

const namesOf = (findings: Finding[]): string => [...new Set(findings.map((f) => findingName(f.code)))].join(', ');

interface TickedBarProps {
  count: number;
  field: React.RefObject<HTMLInputElement | null>;
  names: string[];
  onPlace: (change: BatchChoice) => void;
  onLeave: (leave: boolean) => void;
  onClear: () => void;
}

/** What can be done with all files that are ticked. */
function TickedBar({ count, field, names, onPlace, onLeave, onClear }: TickedBarProps) {
  const [specimen, setSpecimen] = useState('');
  const [mount, setMount] = useState('');
  const number = Number(mount);
  const isNumber = mount.trim() === '' || (Number.isInteger(number) && number >= 1);
  const change: BatchChoice = {
    ...(specimen.trim() === '' ? {} : { specimen: specimen.trim() }),
    ...(mount.trim() === '' || !isNumber ? {} : { mount: number }),
  };
  const isReady = Object.keys(change).length > 0 && isNumber;
  return (
    <form
      aria-label="Selected files"
      className="mt-3 flex flex-wrap items-end gap-3 border-l-4 border-ember bg-leaf px-4 py-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (isReady) onPlace(change);
      }}
    >
      <strong className="pb-2">{plural(count, 'file')} chosen:</strong>
      <label>
        <span className="block text-note">they measured</span>
        <input
          ref={field}
          className="field w-56"
          list="batch-specimens"
          maxLength={80}
          value={specimen}
          onChange={(e) => setSpecimen(e.target.value)}
        />
      </label>
      <datalist id="batch-specimens">
        {names.map((n) => (
          <option key={n} value={n} />
        ))}
      </datalist>
      <label>
        <span className="block text-note">on mount</span>
        <input
          className="field figure w-20"
          inputMode="numeric"
          value={mount}
          aria-invalid={!isNumber}
          onChange={(e) => setMount(e.target.value)}
        />
      </label>
      <button type="submit" className="quiet" disabled={!isReady}>
        Apply
      </button>
      <Quiet onClick={() => onLeave(true)}>Leave out</Quiet>
      <Quiet onClick={() => onLeave(false)}>Include them</Quiet>
      <Quiet onClick={onClear}>Clear selection</Quiet>
    </form>
  );
}
