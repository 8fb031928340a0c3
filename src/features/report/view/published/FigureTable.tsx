import type { ReactNode } from 'react';
import { FigureRows } from '#ui/FigureRows.tsx';

interface FigureTableProps {
  title: string;
  note: string;
  columns: string[];
  rows: (string | number | null)[][];
  children: ReactNode;
}

/** A drawing of a published page with its note, and its figures as a table one press away. */
export const FigureTable = ({ title, note, columns, rows, children }: FigureTableProps) => (
  <figure aria-label={title} className="mt-4">
    {children}
    <figcaption className="text-note text-soft">
      {note}
      <details className="mt-1 print:hidden">
        <summary className="inline-block cursor-pointer py-1 underline">Table of this figure</summary>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard */}
        <section className="overflow-auto border border-rule" tabIndex={0} aria-label={`Table: ${title}`}>
          <FigureRows table={{ columns, rows }} />
        </section>
      </details>
    </figcaption>
  </figure>
);
