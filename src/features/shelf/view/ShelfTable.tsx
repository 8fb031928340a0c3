import { Download, Plus, Upload } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { FIRST_SHEETS, SECTIONS, type SectionKey, sectionFields, withArticle } from '#features/shelf/model/sections';
import type { ShelfRow } from '#features/shelf/server/sheets';
import { findingName } from '#ui/FindingList.tsx';
import { Alert, Options, Quiet, Tick } from '#ui/Form.tsx';
import { SortTable, sortColumns } from '#ui/SortTable.tsx';
import { send } from '#ui/send';
import { fieldText } from './fieldText';

const column = sortColumns<ShelfRow>();

/** The sheets of a section: search, filter by kind, sort, CSV in and out. Those after the first come when the page stands. */
export function ShelfTable({ section, first, more = false }: { section: SectionKey; first: ShelfRow[]; more?: boolean }) {
  const [told, setTold] = useState<string | null>(null);
  const [rows, setRows] = useState(first);
  const [waiting, setWaiting] = useState(more);
  useEffect(() => {
    if (!more) return;
    void send<ShelfRow[]>(`/api/shelf/${section}`, {}, setTold).then((all) => {
      if (all) setRows(all);
      setWaiting(false);
    });
  }, [more, section]);
  const { name, one, empty } = SECTIONS[section];
  const fields = useMemo(() => sectionFields(section).filter((f) => f.column), [section]);
  const kinds = fields.find((f) => f.kind === 'choice' && (f.key === 'kind' || f.key === 'reads'));
  const [search, setSearch] = useState('');
  const [kind, setKind] = useState('');
  const [archived, setArchived] = useState(false);
  const file = useRef<HTMLInputElement>(null);

  const shown = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    return rows.filter((r) => {
      if (r.archived && !archived) return false;
      if (kind && kinds && r.sheet[kinds.key] !== kind) return false;
      const text = `${r.name} ${sectionFields(section)
        .map((f) => fieldText(f, r.sheet[f.key]))
        .join(' ')}`.toLowerCase();
      return words.every((w) => text.includes(w));
    });
  }, [rows, search, kind, archived, kinds, section]);

  const columns = useMemo(
    () =>
      column.columns([
        column.accessor('name', {
          header: 'Name',
          cell: ({ row }) => (
            <a href={`/shelf/${section}/${row.original.id}`} className="font-semibold underline decoration-soft">
              {row.original.name}
            </a>
          ),
        }),
        ...fields.map((f) =>
          column.accessor((r) => r.sheet[f.key] ?? null, {
            id: f.key,
            header: f.unit ? `${f.label} / ${f.unit}` : f.label,
            cell: ({ row }) =>
              f.key === 'price' && row.original.sheet.price != null
                ? `${Number(row.original.sheet.price).toFixed(2)} ${row.original.sheet.currency ?? ''}`
                : fieldText(f, row.original.sheet[f.key]),
          }),
        ),
        ...(section === 'materials'
          ? [
              column.accessor((r) => r.stock?.left ?? null, {
                id: 'left',
                header: 'Mounts left',
                cell: ({ row }) => row.original.stock?.left ?? '',
              }),
            ]
          : []),
        column.accessor('mounts', { header: 'Mounts so far' }),
        column.accessor((r) => r.findings.length, {
          id: 'findings',
          header: 'Findings',
          cell: ({ row }) => (
            <span className="font-semibold text-ember">
              {row.original.archived && <span className="font-normal text-soft">archived </span>}
              {row.original.findings
                .filter((f) => f.severity !== 'note')
                .map((f) => findingName(f.code))
                .join(', ')}
            </span>
          ),
        }),
      ]),
    [fields, section],
  );
  const numeric = new Set([...fields.filter((f) => f.kind === 'number' || f.kind === 'whole').map((f) => f.key), 'left', 'mounts']);

  const takeFile = async (list: FileList | null) => {
    const chosen = list?.[0];
    if (!chosen) return;
    if (chosen.size > 4 * 1024 * 1024) return setTold(`${chosen.name} is larger than 4 MB.`);
    const taken = await send<{ added: number; changed: number }>(
      `/api/shelf/${section}/sheets.csv`,
      { method: 'POST', body: await chosen.text(), headers: { 'content-type': 'text/csv' } },
      setTold,
    );
    if (file.current) file.current.value = '';
    if (taken) window.location.reload();
  };

  return (
    <div>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2 py-3">
        <label>
          <span className="sr-only">Search {name.toLowerCase()}</span>
          <input
            className="field w-56"
            type="search"
            placeholder={`Search ${name.toLowerCase()}`}
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        </label>
        {kinds && (
          <label>
            <span className="sr-only">{kinds.label}</span>
            <select className="field" value={kind} onChange={(e) => setKind(e.target.value)}>
              <option value="">{kinds.label === 'Reads' ? 'All readings' : 'All kinds'}</option>
              <Options choices={Object.entries(kinds.choices ?? {})} />
            </select>
          </label>
        )}
        {rows.some((r) => r.archived) && <Tick words="Include archived" checked={archived} onChange={setArchived} />}
        <span className="ml-auto flex flex-wrap gap-2">
          <a href={`/api/shelf/${section}/sheets.csv`} className="quiet inline-flex items-center gap-2 no-underline">
            <Download size={16} aria-hidden="true" /> CSV
          </a>
          <Quiet className="inline-flex items-center gap-2" onClick={() => file.current?.click()}>
            <Upload size={16} aria-hidden="true" /> Import CSV
          </Quiet>
          <input
            ref={file}
            type="file"
            accept=".csv,text/csv"
            className="hidden"
            aria-label={`CSV of ${name.toLowerCase()}`}
            onChange={(e) => takeFile(e.target.files)}
          />
          <a href={`/shelf/${section}/new`} className="act inline-flex items-center gap-2 no-underline">
            <Plus size={16} aria-hidden="true" /> Add {withArticle(one)}
          </a>
        </span>
      </div>
      <Alert className="mb-3">{told}</Alert>
      {rows.length === 0 ? (
        <p className="section-rule max-w-xl text-name">
          {empty} Add the first one, or import a CSV with a column “name”; the file this page gives out shows the columns.
        </p>
      ) : (
        <div className="border-t-[3px] border-ink">
          <SortTable columns={columns} rows={shown} label={`Table of ${name.toLowerCase()}`} numeric={numeric} most={FIRST_SHEETS} />
          {waiting && (
            <p role="status" className="py-3 text-soft">
              Listing the others…
            </p>
          )}
          {!waiting && shown.length === 0 && (
            <p className="py-3 text-soft">Nothing on this shelf matches. Clear the search, or choose another kind.</p>
          )}
        </div>
      )}
    </div>
  );
}
