import type { ReactNode } from 'react';

export interface Column<Row> {
  head: ReactNode;
  /** what stands in a row; text and numbers as they are */
  cell: (row: Row, index: number) => ReactNode;
  /** figures are set to the right, in digits of even width */
  figure?: boolean;
  /** left out on a phone */
  wide?: boolean;
  /** names the row for those who do not see it */
  names?: boolean;
  className?: string | ((row: Row) => string);
}

interface TableProps<Row> {
  /** absent ones are left out, so that a column may depend on what there is */
  columns: (Column<Row> | false | null | undefined)[];
  rows: Row[];
  keyOf: (row: Row, index: number) => string | number;
  caption?: ReactNode;
  /** what the table is, for those who do not see it; with it the table scrolls by itself */
  label?: string;
  /** least width of what scrolls, as a class */
  least?: string;
  className?: string;
  testId?: string;
}

/** A plain table: a head under a line, rows under thinner ones. */
export function Table<Row>({ columns, rows, keyOf, caption, label, least = '', className = '', testId }: TableProps<Row>) {
  const shown = columns.filter((c) => !!c);
  const table = (
    <table className={`w-full ${least} ${label ? '' : className}`} data-testid={testId}>
      {caption && <caption className="pb-1 text-left text-soft">{caption}</caption>}
      <thead>
        <tr className="border-b border-ink align-bottom">
          {shown.map((c, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: columns never move
            <th key={i} className={`py-1 ${i > 0 ? 'pl-4' : ''} ${c.figure ? 'text-right' : 'text-left'} ${c.wide ? 'max-sm:hidden' : ''}`}>
              {c.head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr key={keyOf(row, index)} className="border-b border-rule">
            {shown.map((c, i) => {
              const Cell = c.names ? 'th' : 'td';
              const own = typeof c.className === 'function' ? c.className(row) : (c.className ?? '');
              return (
                <Cell
                  // biome-ignore lint/suspicious/noArrayIndexKey: columns never move
                  key={i}
                  scope={c.names ? 'row' : undefined}
                  className={`py-1.5 ${i > 0 ? 'pl-4' : ''} ${c.figure ? 'figure text-right whitespace-nowrap' : 'text-left'} ${c.wide ? 'max-sm:hidden' : ''} ${own}`}
                >
                  {c.cell(row, index)}
                </Cell>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
  return label ? (
    <Scroll label={label} className={className}>
      {table}
    </Scroll>
  ) : (
    table
  );
}

/** What may be wider than the page, such as a table: it scrolls by itself, and is reached by the keyboard. */
export const Scroll = ({ label, className = '', children }: { label: string; className?: string; children: ReactNode }) => (
  // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
  <section className={`relative overflow-x-auto ${className}`} tabIndex={0} aria-label={label}>
    {children}
  </section>
);
