import type { ChartTable } from './exportChart';

/** Rows that are drawn of a chart's table; its CSV has all. */
export const MOST_ROWS = 500;

/** The figures of a chart as a table. */
export const FigureRows = ({ table: { columns, rows } }: { table: ChartTable }) => (
  <table className="figure w-full text-note text-ink">
    <thead className="sticky top-0 bg-leaf">
      <tr>
        {columns.map((c) => (
          <th key={c} className="px-3 py-1">
            {c}
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {rows.slice(0, MOST_ROWS).map((row, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows of figures have no other identity and never move
        <tr key={i} className="border-t border-rule">
          {columns.map((c, j) => {
            const value = row[j];
            return (
              <td key={c} className="px-3 py-1">
                {typeof value === 'number' ? Number(value.toPrecision(7)) : value}
              </td>
            );
          })}
        </tr>
      ))}
    </tbody>
  </table>
);
