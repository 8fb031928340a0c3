import { type ReactNode, useRef, useState } from 'react';
import { type ChartTable, saveCsv, savePng, saveSvg } from './exportChart';
import { FigureRows, MOST_ROWS } from './FigureRows.tsx';
import type { TermKey } from './glossary';
import { Info } from './Info.tsx';

interface ChartFrameProps {
  /** what the chart shows, for those who do not see it and for file names */
  title: string;
  table: ChartTable;
  /** what the signs of the drawing stand for */
  note?: string;
  /** terms of the note, each with its line behind an ⓘ */
  terms?: TermKey[];
  children: ReactNode;
}

/** A chart with its table one click away, and its drawing and figures to take along. */
export function ChartFrame({ title, table, note, terms = [], children }: ChartFrameProps) {
  const frame = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState(false);
  const name = title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');
  const drawing = () => frame.current?.querySelector<SVGSVGElement>('svg.recharts-surface') ?? null;
  const withDrawing = (work: (svg: SVGSVGElement) => void) => () => {
    const svg = drawing();
    if (svg) work(svg);
  };
  const button = 'px-2 py-1 underline decoration-soft underline-offset-3 hover:bg-band';
  return (
    <figure aria-label={title}>
      <div ref={frame}>{children}</div>
      <figcaption className="flex flex-wrap items-start justify-end gap-x-1 sm:flex-nowrap text-note text-soft">
        {note && (
          <span className="mr-auto max-w-[62rem] pr-6">
            {note}
            {terms.map((t) => (
              <Info key={t} term={t} />
            ))}
          </span>
        )}
        <span className="whitespace-nowrap">
          <button type="button" className={button} aria-expanded={open} onClick={() => setOpen(!open)}>
            Table
          </button>
          <button type="button" className={button} onClick={withDrawing((svg) => saveSvg(svg, name))}>
            SVG
          </button>
          <button type="button" className={button} onClick={withDrawing((svg) => void savePng(svg, name))}>
            PNG
          </button>
          <button type="button" className={button} onClick={() => saveCsv(table, name)}>
            CSV
          </button>
        </span>
      </figcaption>
      {open && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
        <section className="mt-2 max-h-80 overflow-auto border border-rule" tabIndex={0} aria-label={`Table: ${title}`}>
          <FigureRows table={table} />
          {table.rows.length > MOST_ROWS && (
            <p className="px-3 py-1 text-note">
              The first {MOST_ROWS} of {table.rows.length} rows; the CSV has all.
            </p>
          )}
        </section>
      )}
    </figure>
  );
}
