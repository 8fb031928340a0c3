import {
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
import { useMemo, useState } from 'react';
import type { AnalysedPair } from '#core/compare/analyse';
import { write, writeSigned } from '#core/compare/number';
import { verdictWords } from './verdictWords.ts';

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { basic: sortFn_basic, text: sortFn_text, alphanumeric: sortFn_alphanumeric },
});
const column = createColumnHelper<typeof features, AnalysedPair>();

const columns = column.columns([
  column.accessor('a', { header: 'a' }),
  column.accessor('b', { header: 'b' }),
  column.accessor('difference', { header: 'a − b / K', cell: (c) => writeSigned(c.getValue(), 2) }),
  column.accessor((p) => p.ci[0], {
    id: 'low',
    header: 'Interval / K',
    cell: ({ row }) => `${write(row.original.ci[0], 2)} to ${write(row.original.ci[1], 2)}`,
  }),
  column.accessor('p_adjusted', { header: 'p, all pairs', cell: (c) => (c.getValue() < 0.0001 ? '< 0.0001' : write(c.getValue(), 4)) }),
  column.accessor('verdict', { header: 'Verdict', cell: ({ row }) => verdictWords(row.original.verdict) }),
  column.accessor((p) => (p.firm ? 'firm' : p.separate ? 'leans' : 'assumed'), { id: 'firm', header: 'Rests on', cell: ({ row }) => restsOn(row.original) }),
]);

const NUMERIC = new Set(['difference', 'low', 'p_adjusted']);

function restsOn(p: AnalysedPair): string {
  if (p.firm) return 'both schools: firm';
  if (!p.separate || !p.pooled) return 'assumed scatter';
  return `pooled: ${verdictWords(p.pooled.verdict)}; separate: ${verdictWords(p.separate.verdict)}`;
}

/** All pairs with their intervals; the intervals hold together for the whole table. */
export function PairTable({ pairs, reference }: { pairs: AnalysedPair[]; reference: string | null }) {
  const [onlyReference, setOnlyReference] = useState(reference !== null && pairs.length > 10);
  const data = useMemo(() => (onlyReference ? pairs.filter((p) => p.a === reference || p.b === reference) : pairs), [pairs, reference, onlyReference]);
  const table = useTable({ features, columns, data });
  return (
    <div>
      {reference && (
        <label className="mb-2 inline-flex items-center gap-2">
          <input type="checkbox" checked={onlyReference} onChange={(e) => setOnlyReference(e.target.checked)} />
          Only pairs with {reference}
        </label>
      )}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard */}
      <section className="overflow-x-auto" tabIndex={0} aria-label="Table of pairs">
        <table className="w-full">
          <thead>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id} className="border-b border-ink">
                {group.headers.map((h) => {
                  const sorted = h.column.getIsSorted();
                  return (
                    <th
                      key={h.id}
                      className={`py-1.5 pr-4 ${NUMERIC.has(h.id) ? 'text-right' : ''}`}
                      aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                    >
                      <button type="button" onClick={h.column.getToggleSortingHandler()} className="inline-flex items-center gap-1 hover:bg-band">
                        <table.FlexRender header={h} />
                        {sorted === 'asc' && <ArrowUp size={14} aria-hidden="true" />}
                        {sorted === 'desc' && <ArrowDown size={14} aria-hidden="true" />}
                      </button>
                    </th>
                  );
                })}
              </tr>
            ))}
          </thead>
          <tbody>
            {table.getRowModel().rows.map((row) => (
              <tr key={row.id} className="border-b border-rule">
                {row.getAllCells().map((cell) => (
                  <td
                    key={cell.id}
                    className={`py-1.5 pr-4 whitespace-nowrap ${NUMERIC.has(cell.column.id) ? 'figure text-right text-note' : ''} ${cell.column.id === 'verdict' ? 'font-semibold' : ''}`}
                  >
                    <table.FlexRender cell={cell} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
