import { ClipboardPaste, Plus, Trash2 } from 'lucide-react';
import { type ClipboardEvent, useEffect, useMemo, useRef, useState } from 'react';
import { list, plural } from '#core/text/words';
import { freshTitle } from '#features/run/model/batch';
import { isBeforeAfter, readNames } from '#features/run/model/fileNames';
import {
  isEmptyRow,
  isValueOpen,
  type ReadingCells,
  type ReadingColumn,
  readingHeader,
  rowProblem,
  typedRow,
  VALUE_COLUMN,
  valueAs,
} from '#features/run/model/readingTable';
import { ASKED_AT_FIRST } from '#features/run/model/typedAsked';
import { TYPED_FIELDS, type TypedField, type TypedRemedy, typedRemedies } from '#features/run/model/typedRun';
import { MOST_ROWS } from '#features/run/model/typedTable';
import { KIND_NAMES, SPECIMEN_KINDS } from '#features/shelf/model/materials';
import { Act, Alert, Field, Options, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { Sheet } from '#ui/Sheet.tsx';
import { sendJson } from '#ui/send';
import { Scroll } from '#ui/Table.tsx';
import { useKept } from '#ui/useKept';
import { parseTable } from './parseTable';
import { Remedies } from './Remedies.tsx';
import { fieldLabel } from './TypedFields.tsx';
import { FIRST_RIG, type ImportContext, reductionFor, studyChoices } from './types';
import { type PlacesState, usePlaces } from './usePlaces';

interface TypedTableSheetProps {
  context: ImportContext;
  /** a table that was dropped as a file */
  text?: string;
  /** name of that file */
  name?: string;
  onClose: () => void;
  onOne?: () => void;
}

interface Row {
  id: string;
  cells: ReadingCells;
}

const PLACE_LABELS: Partial<Record<ReadingColumn, string>> = {
  ...{ specimen: 'Specimen or state', rig: 'Rig or device', mount: 'Mount', load: 'Load', read_at: 'Date', note: 'Note' },
};
const columnLabel = (column: ReadingColumn): string =>
  PLACE_LABELS[column] ??
  (column.startsWith('part:')
    ? `${column.slice('part:'.length)} / °C`
    : column.startsWith('event:')
      ? `Time to ${column.slice('event:'.length)} / s or min:s`
      : fieldLabel(column as TypedField));

const freshRow = (cells: ReadingCells = {}): Row => ({ id: crypto.randomUUID(), cells });

/** What the table holds, and what follows from it. */
function useTable({ context, text }: Pick<TypedTableSheetProps, 'context' | 'text'>, places: PlacesState) {
  const [studyId, setStudyId] = useState<number | null>(context.study_id ?? null);
  const { need } = places;
  useEffect(() => need(studyId), [need, studyId]);
  const study = places.data?.studies.find((s) => s.id === studyId);
  const asked = study?.typed ?? ASKED_AT_FIRST;
  const [given] = useState(() =>
    text === undefined
      ? null
      : readTable(
          text,
          asked.parts.map((part) => `part:${part}` as const),
        ),
  );
  const keeping = text === undefined ? `table of readings, study ${context.study_id ?? 'new'}` : null;
  const [rows, setRows, forgetRows, isBack] = useKept<Row[]>(keeping, () => given?.rows.map((cells) => freshRow(cells)) ?? [freshRow()]);
  const [extra, setExtra, forgetExtra] = useKept<ReadingColumn[]>(keeping && `${keeping}, columns`, given?.columns ?? []);
  const forget = () => {
    forgetRows();
    forgetExtra();
  };
  const [told, setTold] = useState<string | null>(given?.told ?? null);
  const columns = useMemo((): ReadingColumn[] => {
    const wanted: ReadingColumn[] = ['specimen', ...(extra.includes('rig') ? (['rig'] as const) : []), 'mount'];
    if ((study?.loads.length ?? 0) > 1 || extra.includes('load')) wanted.push('load');
    const fields = TYPED_FIELDS.filter((f) => asked.fields.includes(f) || extra.includes(f));
    const parts = [...new Set([...asked.parts.map((p) => `part:${p}` as const), ...extra.filter((c) => c.startsWith('part:'))])];
    const events: ReadingColumn[] = [
      ...new Set([...(asked.events ? (['event:shut-off'] as const) : []), ...extra.filter((c) => c.startsWith('event:'))]),
    ];
    return [...wanted, 'read_at', ...fields, ...parts, ...events, ...(extra.includes('note') ? (['note'] as const) : [])];
  }, [study, asked, extra]);
  return { studyId, setStudyId, study, asked, rows, setRows, extra, setExtra, columns, told, setTold, forget, isBack };
}
type TableDesk = ReturnType<typeof useTable>;

/** A table that was pasted or dropped: its rows by column, where its header is understood. */
function readTable(text: string, named: ReadingColumn[]) {
  const [head = [], ...lines] = parseTable(text);
  const header = readingHeader(head, named);
  if (!header) return null;
  const rows = lines
    .slice(0, MOST_ROWS)
    .map((line) =>
      Object.fromEntries(header.columns.flatMap((c, i) => (c === null ? [] : [[c, (line[i] ?? '').trim()]]))),
    ) as ReadingCells[];
  const told = [
    ...(header.unknown.length > 0 ? [`Not read, because no reading has that name: ${list(header.unknown)}.`] : []),
    ...(lines.length > MOST_ROWS ? [`${lines.length} rows were pasted; the first ${MOST_ROWS} are read.`] : []),
  ];
  return {
    rows,
    columns: header.columns.filter((c): c is ReadingColumn => c !== null && c !== VALUE_COLUMN),
    told: told.length > 0 ? told.join(' ') : null,
  };
}

/** Many runs at once: a row a run, typed, pasted from a spreadsheet or dropped as a file; all are stored, or none. */
export function TypedTableSheet({ context, text, name, onClose, onOne }: TypedTableSheetProps) {
  const places = usePlaces(context.study_id);
  const desk = useTable({ context, text }, places);
  const { study, rows, columns } = desk;
  const [ownTitle, setTitle] = useState<string | null>(null);
  const [ownKind, setKind] = useState<string | null>(null);
  const [ownRig, setRig] = useState<string | null>(null);
  const [remedy, setRemedy] = useState<TypedRemedy | null>(null);
  const [busy, setBusy] = useState(false);
  const filled = rows.filter((r) => !isEmptyRow(r.cells));
  // a table that came as a file says what it can of its place; everything can be changed
  const specimens = [...new Set(filled.flatMap((r) => r.cells.specimen?.trim() || []))];
  const given = name === undefined ? null : (readNames([{ name }]).title ?? specimens.slice(0, 3).join(', '));
  const taken = (places.data?.titles ?? []).map((s) => s.title);
  const title = ownTitle ?? (given ? freshTitle(given.slice(0, 100), taken) : '');
  const kind = ownKind ?? (name === undefined ? null : isBeforeAfter(specimens) ? 'state' : 'paste');
  const rig = ownRig ?? (name === undefined ? '' : (places.data?.rigs.at(-1)?.name ?? (places.data ? FIRST_RIG : '')));
  const checks = useChecks(study, rig.trim() !== '');
  const wrong = filled
    .filter((r) => !isValueOpen([r.cells]))
    .map((r) => ({ row: r, problem: checks.problem(r.cells) }))
    .filter((w) => w.problem !== null);
  const known = new Set(places.data?.specimens.filter((s) => s.study_id === desk.studyId).map((s) => s.name));
  const isNew = filled.some((r) => r.cells.specimen?.trim() && !known.has(r.cells.specimen.trim()));
  const remedies = wrong.length > 0 || filled.length === 0 ? [] : commonRemedies(filled.map((r) => checks.remedies(r.cells)));
  const chosen = remedies.find((r) => r.words === remedy?.words) ?? null;
  const asksValue = isValueOpen(rows.map((r) => r.cells));
  const wait = asksValue
    ? 'Say what the column “value” holds.'
    : filled.length === 0
      ? 'Enter or paste at least one row.'
      : !desk.studyId && title.trim() === ''
        ? 'Give the new study a title.'
        : isNew && kind === null
          ? 'Say what kind the new specimens are.'
          : wrong.length > 0
            ? `${plural(wrong.length, 'row')} cannot be read yet.`
            : null;
  const save = async () => {
    setBusy(true);
    const stored = await sendJson<{ study_id: number }>(
      'POST',
      '/api/typed-runs/table',
      {
        ...{ study_id: desk.studyId, study_title: title, kind, rig: rig.trim() || null, study: chosen?.change },
        rows: filled.map((r) => typedRow(r.cells, r.id)),
      },
      desk.setTold,
    );
    setBusy(false);
    if (!stored) return;
    desk.forget();
    window.location.assign(`/studies/${stored.study_id}/results`);
  };
  return (
    <Sheet
      title="Table of readings"
      closeLabel="Close without saving the table"
      notice={null}
      actions={onOne && <Quiet onClick={onOne}>One run</Quiet>}
      onClose={onClose}
    >
      <div className="flex flex-col gap-4 px-4 pt-4 pb-12 sm:px-9">
        <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2 lg:grid-cols-4">
          <Field label="Study">
            {(p) => (
              <select
                {...p}
                className="field w-full"
                value={desk.studyId ?? ''}
                onChange={(e) => desk.setStudyId(Number(e.target.value) || null)}
              >
                <option value="">a new study</option>
                <Options choices={studyChoices(places.data)} />
              </select>
            )}
          </Field>
          {!desk.studyId && <TextBox label="Title of the new study" maxLength={120} value={title} onChange={setTitle} />}
          {!columns.includes('rig') && (
            <TextBox
              label="Rig or device"
              list="rigs"
              maxLength={80}
              value={rig}
              onChange={setRig}
              hint="For all rows; a new name adds one."
            />
          )}
          {isNew && (
            <Field label="Kind of the new specimens">
              {(p) => (
                <select {...p} className="field w-full" value={kind ?? ''} onChange={(e) => setKind(e.target.value)}>
                  <option value="">choose</option>
                  <Options choices={SPECIMEN_KINDS.map((k) => [k, KIND_NAMES[k]] as const)} />
                </select>
              )}
            </Field>
          )}
        </div>
        <datalist id="rigs">
          {places.data?.rigs.map((r) => (
            <option key={r.id} value={r.name} />
          ))}
        </datalist>
        <datalist id="specimens">
          {[...known].map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <p className="max-w-3xl text-soft">
          One row per run. Paste cells from a spreadsheet, with or without a header. Rows with the same mount number are runs of one mount;
          leave the date empty if it is not known.
        </p>
        {!desk.studyId && isNew && kind === 'state' && (
          <p className="max-w-3xl border-l-4 border-rule pl-4">
            The study becomes a before and after: the state in the first row is the one before, as it was found. Several devices are
            compared within each of them.
          </p>
        )}
        {desk.isBack && (
          <p role="status" className="flex flex-wrap items-center gap-3 border-l-4 border-cool pl-4">
            The table you entered before is back. It is not stored yet.
            <Quiet
              onClick={() => {
                desk.forget();
                onClose();
              }}
            >
              Discard
            </Quiet>
          </p>
        )}
        <ColumnPicker desk={desk} />
        {asksValue && <ValueQuestion desk={desk} />}
        <Grid desk={desk} checks={checks} />
        <ul className="text-ember">
          {wrong.slice(0, 8).map(({ row, problem }) => (
            <li key={row.id}>
              Row {rows.indexOf(row) + 1}, {columnLabel(problem?.column ?? 'specimen')}: {problem?.problem}
            </li>
          ))}
          {wrong.length > 8 && <li>and {wrong.length - 8} more</li>}
        </ul>
        <Remedies remedies={remedies} chosen={chosen} onChoose={setRemedy} />
        <Alert className="">{desk.told}</Alert>
        <div className="flex flex-wrap items-center gap-3">
          <Act disabled={busy || wait !== null} onClick={() => void save()}>
            {busy ? 'Saving…' : `Save ${plural(filled.length, 'run')}`}
          </Act>
          {wait && <span className="text-soft">{wait}</span>}
          {study && <span className="text-soft">They are stored in “{study.title}”, all of them or none.</span>}
        </div>
      </div>
    </Sheet>
  );
}

type Study = TableDesk['study'];

/** What is wrong with a row, and what would let it count: found once for each row, and again where that row changes. */
function useChecks(study: Study, hasRig: boolean) {
  return useMemo(() => {
    const once = <T,>(find: (cells: ReadingCells) => T) => {
      const known = new WeakMap<ReadingCells, { found: T }>();
      return (cells: ReadingCells): T => {
        const before = known.get(cells) ?? { found: find(cells) };
        known.set(cells, before);
        return before.found;
      };
    };
    return {
      problem: once((cells) => (isEmptyRow(cells) ? null : rowProblem(cells, hasRig))),
      remedies: once((cells) => typedRemedies(typedRow(cells, ''), reductionFor(study, cells.load ?? null))),
    };
  }, [study, hasRig]);
}
type Checks = ReturnType<typeof useChecks>;

/** Ways that let every row count that has no value as the study stands. */
function commonRemedies(rows: TypedRemedy[][]): TypedRemedy[] {
  const each = rows.filter((r) => r.length > 0);
  return (each[0] ?? []).filter((r) => each.every((others) => others.some((o) => o.words === r.words)));
}

/** Which readings have a column, beside those that the study asks for. */
function ColumnPicker({ desk: { asked, extra, setExtra } }: { desk: TableDesk }) {
  const [name, setName] = useState('');
  const add = (column: ReadingColumn) => {
    setExtra([...new Set([...extra, column])]);
    setName('');
  };
  const choices: ReadingColumn[] = ['rig', 'load', ...TYPED_FIELDS.filter((f) => !asked.fields.includes(f)), 'note'];
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2">More columns</summary>
      <div className="grid gap-x-5 sm:grid-cols-3 lg:grid-cols-5">
        {choices.map((c) => (
          <Tick
            key={c}
            words={columnLabel(c)}
            checked={extra.includes(c)}
            onChange={(on) => setExtra(on ? [...extra, c] : extra.filter((e) => e !== c))}
          />
        ))}
      </div>
      <div className="mt-2 flex items-end gap-2">
        <TextBox label="A part, sensor or event by name" maxLength={80} value={name} onChange={setName} />
        <Quiet disabled={name.trim() === ''} onClick={() => add(`part:${name.trim()}`)}>
          Add its temperature
        </Quiet>
        <Quiet disabled={name.trim() === ''} onClick={() => add(`event:${name.trim()}`)}>
          Add its time
        </Quiet>
      </div>
    </details>
  );
}

/** A column called "value" may hold any reading: which one is asked, never guessed. */
function ValueQuestion({ desk }: { desk: TableDesk }) {
  const [field, setField] = useState<TypedField>('rise_k');
  return (
    <div className="flex flex-wrap items-end gap-3 border-l-4 border-ember pl-4">
      <Field label="The column “value” holds">
        {(p) => (
          <select {...p} className="field" value={field} onChange={(e) => setField(e.target.value as TypedField)}>
            <Options choices={TYPED_FIELDS.map((f) => [f, fieldLabel(f)] as const)} />
          </select>
        )}
      </Field>
      <Quiet
        onClick={() => {
          desk.setRows(desk.rows.map((r) => ({ ...r, cells: valueAs(r.cells, field) })));
          desk.setExtra([...new Set([...desk.extra, field])]);
        }}
      >
        Include so
      </Quiet>
    </div>
  );
}

/** The table itself: a field a cell; what is pasted spreads from the cell it is pasted into. */
function Grid({ desk, checks }: { desk: TableDesk; checks: Checks }) {
  const { rows, setRows, columns } = desk;
  const body = useRef<HTMLTableSectionElement>(null);
  const set = (id: string, column: ReadingColumn, text: string) =>
    setRows(rows.map((r) => (r.id === id ? { ...r, cells: { ...r.cells, [column]: text } } : r)));
  const paste = (e: ClipboardEvent, at: number, from: number) => {
    const text = e.clipboardData.getData('text/plain');
    if (!/[\t\n]/.test(text.trim())) return;
    e.preventDefault();
    const read = readTable(
      text,
      columns.filter((c) => c.includes(':')),
    );
    if (read) {
      const kept = rows.filter((r) => !isEmptyRow(r.cells));
      setRows([...kept, ...read.rows.map((cells) => freshRow(cells))]);
      desk.setExtra([...new Set([...desk.extra, ...read.columns])]);
      desk.setTold(read.told);
      return;
    }
    const lines = parseTable(text);
    const next = [...rows, ...Array.from({ length: Math.max(0, at + lines.length - rows.length) }, () => freshRow())].slice(0, MOST_ROWS);
    setRows(
      next.map((r, i) => {
        const line = lines[i - at];
        if (!line) return r;
        const cells = Object.fromEntries(line.flatMap((cell, j) => (columns[from + j] ? [[columns[from + j], cell.trim()]] : [])));
        return { ...r, cells: { ...r.cells, ...cells } };
      }),
    );
  };
  // a further row goes on where the last one stands: same specimen, mount, load and day
  const add = (column = 0) => {
    const last = rows.at(-1)?.cells ?? {};
    const kept = Object.fromEntries((['specimen', 'rig', 'mount', 'load', 'read_at'] as const).map((c) => [c, last[c] ?? '']));
    setRows([...rows, freshRow(kept)]);
    requestAnimationFrame(() => body.current?.querySelectorAll<HTMLInputElement>('tr:last-child input')[column]?.focus());
  };
  return (
    <div data-own-keeping>
      <Scroll label="Runs">
        <table className="border-collapse">
          <thead>
            <tr>
              <th className="pr-2 text-left text-note font-normal text-soft">#</th>
              {columns.map((c) => (
                <th key={c} scope="col" className="pr-2 text-left align-bottom text-note font-semibold">
                  {columnLabel(c)}
                </th>
              ))}
              <th>
                <span className="sr-only">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody ref={body}>
            {rows.map((r, i) => {
              const problem = checks.problem(r.cells);
              return (
                <tr key={r.id}>
                  <td className="pr-2 text-note text-soft">{i + 1}</td>
                  {columns.map((c, j) => (
                    <td key={c} className="pr-1 pb-1">
                      <input
                        aria-label={`${columnLabel(c)}, row ${i + 1}`}
                        aria-invalid={problem?.column === c || undefined}
                        title={problem?.column === c ? problem.problem : undefined}
                        className={`field ${c === 'specimen' || c === 'rig' || c === 'note' ? 'w-40' : c === 'mount' ? 'figure w-16' : c === 'read_at' ? 'figure w-48' : 'figure w-24'} ${problem?.column === c ? 'border-ember' : ''}`}
                        list={c === 'specimen' ? 'specimens' : c === 'rig' ? 'rigs' : undefined}
                        placeholder={c === 'read_at' ? '2026-06-04 14:30' : undefined}
                        maxLength={120}
                        value={r.cells[c] ?? ''}
                        onChange={(e) => set(r.id, c, e.target.value)}
                        onPaste={(e) => paste(e, i, j)}
                        onKeyDown={(e) => {
                          if (e.key === 'Enter' && i === rows.length - 1 && !isEmptyRow(r.cells)) add(j);
                        }}
                      />
                    </td>
                  ))}
                  <td>
                    <Quiet aria-label={`Remove row ${i + 1}`} onClick={() => setRows(rows.filter((o) => o.id !== r.id))}>
                      <Trash2 size={16} aria-hidden="true" />
                    </Quiet>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Scroll>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Quiet className="inline-flex items-center gap-1" disabled={rows.length >= MOST_ROWS} onClick={() => add()}>
          <Plus size={16} aria-hidden="true" /> Add row
        </Quiet>
        <span className="inline-flex items-center gap-1 text-note text-soft">
          <ClipboardPaste size={14} aria-hidden="true" /> Cells can be pasted into any field; Enter moves to the next row.
        </span>
      </div>
    </div>
  );
}
