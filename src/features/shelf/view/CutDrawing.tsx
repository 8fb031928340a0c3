import type { PlacedCut, Rectangle } from '#features/shelf/model/cuts';

/** Cuts as they lie on a sheet, to scale. */
export function CutDrawing({ sheet, placed, label }: { sheet: Rectangle; placed: PlacedCut[]; label: string }) {
  const line = Math.max(sheet.length, sheet.width) / 250;
  return (
    <svg
      viewBox={`${-line} ${-line} ${sheet.length + 2 * line} ${sheet.width + 2 * line}`}
      className="mt-2 max-h-56 w-full max-w-sm"
      preserveAspectRatio="xMinYMin meet"
      role="img"
      aria-label={label}
    >
      <rect width={sheet.length} height={sheet.width} fill="var(--leaf)" stroke="var(--ink)" strokeWidth={line} />
      {placed.map((p) => (
        <rect
          key={`${p.x} ${p.y}`}
          {...{ x: p.x, y: sheet.width - p.y - p.width, width: p.length, height: p.width }}
          fill="var(--band)"
          stroke="var(--soft)"
          strokeWidth={line}
        />
      ))}
    </svg>
  );
}
