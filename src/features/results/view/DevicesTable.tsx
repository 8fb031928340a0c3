import { useState } from 'react';
import { OUTCOMES } from '#core/compare/outcomes';
import { midSentence, write, writeSigned } from '#core/text/words';
import type { DeviceCell, DeviceState, DeviceTable } from '#features/results/model/deviceChanges';
import { Table } from '#ui/Table.tsx';
import { Sentences } from '#ui/Words.tsx';

interface DevicesTableProps {
  tables: DeviceTable[];
  before: string;
  after: string;
  /** where the table can be fetched as CSV; none in a report */
  csv?: string;
}

interface DeviceRow extends DeviceCell, Pick<DeviceTable, 'outcome' | 'load'> {}

const SORTS = {
  device: { name: 'Device', by: (a: DeviceRow, b: DeviceRow) => a.device.localeCompare(b.device) },
  outcome: { name: 'Outcome', by: (a: DeviceRow, b: DeviceRow) => OUTCOMES[a.outcome].name.localeCompare(OUTCOMES[b.outcome].name) },
  load: { name: 'Load', by: (a: DeviceRow, b: DeviceRow) => (a.load ?? '').localeCompare(b.load ?? '') },
  change: { name: 'Change', by: (a: DeviceRow, b: DeviceRow) => (a.change ?? Number.NaN) - (b.change ?? Number.NaN) },
};
type Sort = keyof typeof SORTS;

/** One change over several devices: each device in each outcome under each load, before, after and change, and what they say together. */
export function DevicesTable({ tables, ...rest }: DevicesTableProps) {
  const planned = tables.filter((t) => t.planned !== false);
  const others = tables.filter((t) => t.planned === false);
  if (planned.length === 0 || others.length === 0) return <OneTable tables={tables} {...rest} />;
  const names = [...new Set(others.map((t) => midSentence(OUTCOMES[t.outcome].name)))];
  return (
    <>
      <OneTable tables={planned} {...rest} />
      <details className="mt-4">
        <summary className="min-h-11 cursor-pointer py-2 font-semibold">What else was read: {names.join(', ')}</summary>
        <OneTable tables={others} {...rest} label="Further outcomes by device" />
      </details>
    </>
  );
}

/** Sentences that every outcome has alike are told once. */
const common = (tables: DeviceTable[]): string[] => {
  const told = tables.filter((t) => t.sentences.length > 0);
  return told.length < 2 ? [] : told[0].sentences.filter((s) => told.every((t) => t.sentences.includes(s)));
};

function OneTable({ tables, before, after, csv, label }: DevicesTableProps & { label?: string }) {
  const [sort, setSort] = useState<Sort>('outcome');
  const rows = tables.flatMap(({ outcome, load, cells }) => cells.map((c): DeviceRow => ({ ...c, outcome, load })));
  const sorted = sort === 'outcome' ? rows : [...rows].sort(SORTS[sort].by);
  const alike = common(tables);
  const hasLoads = tables.some((t) => t.load !== null);
  // a report stands still, and so do its headings
  const heading = (key: Sort) => (csv === undefined ? SORTS[key].name : sortButton(key));
  const sortButton = (key: Sort) => (
    <button
      type="button"
      className={`hover:bg-band ${sort === key ? 'font-semibold underline underline-offset-4' : ''}`}
      aria-label={`Sort by ${midSentence(SORTS[key].name)}`}
      onClick={() => setSort(key)}
    >
      {SORTS[key].name}
    </button>
  );
  return (
    <div>
      {tables
        .filter((t) => t.sentences.some((s) => !alike.includes(s)))
        .map((t) => (
          <div key={`${t.outcome} ${t.load}`} className="mb-2 max-w-4xl">
            <h4 className="font-semibold">
              {OUTCOMES[t.outcome].name}
              {t.load && `, ${t.load}`}
            </h4>
            <Sentences list={t.sentences.filter((s) => !alike.includes(s))} />
          </div>
        ))}
      {alike.map((s) => (
        <p key={s} className="mb-2 max-w-4xl">
          {s}
        </p>
      ))}
      <Table
        label={label ?? `Devices, ${before} and ${after}`}
        least="min-w-[720px]"
        rows={sorted}
        keyOf={(r) => `${r.device} ${r.outcome} ${r.load}`}
        columns={[
          { head: heading('device'), names: true, cell: (r) => r.device },
          ...(hasLoads ? [{ head: heading('load'), cell: (r: DeviceRow) => r.load }] : []),
          { head: heading('outcome'), cell: (r) => `${OUTCOMES[r.outcome].name} / ${OUTCOMES[r.outcome].unit}` },
          { head: before, figure: true, cell: (r) => stateWords(r, r.before) },
          { head: after, figure: true, cell: (r) => stateWords(r, r.after) },
          {
            head: heading('change'),
            figure: true,
            cell: changeWords,
          },
          {
            head: '95 %, all devices',
            figure: true,
            cell: (r) =>
              r.ci ? `${writeSigned(r.ci[0], OUTCOMES[r.outcome].digits)} to ${writeSigned(r.ci[1], OUTCOMES[r.outcome].digits)}` : '–',
          },
        ]}
      />
      {csv && label === undefined && (
        <p className="mt-2">
          <a href={csv} download>
            This table as CSV
          </a>
        </p>
      )}
    </div>
  );
}

/** The change, as a bound where the state before is one: it throttled, and would have been higher. */
function changeWords({ outcome, before, after, change }: DeviceRow): string {
  const { digits } = OUTCOMES[outcome];
  if (change !== null) return writeSigned(change, digits);
  const isBound = outcome !== 'time_to_event' && before.at_or_above !== null && after.mean !== null;
  return isBound ? `≤ ${writeSigned((after.mean ?? 0) - (before.at_or_above ?? 0), digits)}` : '–';
}

function stateWords({ outcome }: DeviceRow, state: DeviceState): string {
  const { digits } = OUTCOMES[outcome];
  if (state.mean !== null) return `${write(state.mean, digits)} (n = ${state.mounts})`;
  return state.at_or_above === null ? '–' : `${outcome === 'time_to_event' ? '>' : '≥'} ${write(state.at_or_above, digits)}`;
}
