import { useState } from 'react';
import { OUTCOMES } from '#core/compare/outcomes';
import { write, writeSigned } from '#core/text/words';
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
export function DevicesTable({ tables, before, after, csv }: DevicesTableProps) {
  const [sort, setSort] = useState<Sort>('outcome');
  const rows = tables.flatMap(({ outcome, load, cells }) => cells.map((c): DeviceRow => ({ ...c, outcome, load })));
  const sorted = sort === 'outcome' ? rows : [...rows].sort(SORTS[sort].by);
  const hasLoads = tables.some((t) => t.load !== null);
  // a report stands still, and so do its headings
  const heading = (key: Sort) => (csv === undefined ? SORTS[key].name : sortButton(key));
  const sortButton = (key: Sort) => (
    <button
      type="button"
      className={`hover:bg-band ${sort === key ? 'font-semibold underline underline-offset-4' : ''}`}
      aria-label={`Sort by ${SORTS[key].name.toLowerCase()}`}
      onClick={() => setSort(key)}
    >
      {SORTS[key].name}
    </button>
  );
  return (
    <div>
      {tables
        .filter((t) => t.sentences.length > 0)
        .map((t) => (
          <div key={`${t.outcome} ${t.load}`} className="mb-2 max-w-4xl">
            <h4 className="font-semibold">
              {OUTCOMES[t.outcome].name}
              {t.load && `, ${t.load}`}
            </h4>
            <Sentences list={t.sentences} />
          </div>
        ))}
      <Table
        label={`Devices, ${before} and ${after}`}
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
      {csv && (
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
