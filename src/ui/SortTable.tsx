import {
  type ColumnDef,
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_basic,
  sortFn_text,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useState } from 'react';
import { Quiet } from './Form.tsx';
import { Scroll } from './Table.tsx';

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { basic: sortFn_basic, text: sortFn_text, alphanumeric: sortFn_alphanumeric },
});

/** Helper for the columns of a sortable table. */
export const sortColumns = <Row extends object>() => createColumnHelper<typeof features, Row>();

interface SortTableProps<Row extends object> {
  // biome-ignore lint/suspicious/noExplicitAny: columns of one table hold values of several types
  columns: ColumnDef<typeof features, Row, any>[];
  rows: Row[];
  /** what the table is, for those who do not see it */
  label: string;
  /** columns of figures, set to the right */
  numeric: Set<string>;
  /** columns told in bold */
  strong?: Set<string>;
  /** figures in small print, lines unbroken: for tables of many numbers */
  dense?: boolean;
  /** rows drawn at first; a press on the line below draws all. All of them where it is not said */
  most?: number;
}

/** A table that is sorted by a press on a heading, and scrolls by itself where it is wider than the page. */
export function SortTable<Row extends object>({ columns, rows, label, numeric, strong, dense, most }: SortTableProps<Row>) {
  const table = useTable({ features, columns, data: rows });
  const [isWhole, setWhole] = useState(false);
  const sorted = table.getRowModel().rows;
  const drawn = isWhole || most === undefined ? sorted : sorted.slice(0, most);
  return (
    <Scroll label={label}>
      <table className="w-full">
        <thead>
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id} className="border-b border-ink align-bottom">
              {group.headers.map((h) => {
                const order = h.column.getIsSorted();
                return (
                  <th
                    key={h.id}
                    className={`py-1.5 pr-5 leading-tight ${numeric.has(h.id) ? 'text-right' : ''}`}
                    aria-sort={order === 'asc' ? 'ascending' : order === 'desc' ? 'descending' : 'none'}
                  >
                    <button
                      type="button"
                      onClick={h.column.getToggleSortingHandler()}
                      className={`inline-flex items-center gap-1 hover:bg-band ${numeric.has(h.id) ? 'text-right' : 'text-left'}`}
                    >
                      <table.FlexRender header={h} />
                      {order === 'asc' && <ArrowUp size={14} aria-hidden="true" />}
                      {order === 'desc' && <ArrowDown size={14} aria-hidden="true" />}
                    </button>
                  </th>
                );
              })}
            </tr>
          ))}
        </thead>
        <tbody>
          {drawn.map((row) => (
            <tr key={row.id} className="border-b border-rule hover:bg-band">
              {row.getAllCells().map((cell) => {
                const { id } = cell.column;
                const figure = numeric.has(id) ? `figure text-right whitespace-nowrap ${dense ? 'text-note' : ''}` : '';
                return (
                  <td
                    key={cell.id}
                    className={`py-1.5 pr-5 ${figure} ${strong?.has(id) ? 'font-semibold' : ''} ${dense ? 'whitespace-nowrap' : ''}`}
                  >
                    <table.FlexRender cell={cell} />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {drawn.length < sorted.length && (
        <Quiet className="my-3" onClick={() => setWhole(true)}>
          Show all {sorted.length}; {drawn.length} are shown
        </Quiet>
      )}
    </Scroll>
  );
}
