import { useEffect, useRef } from 'react';
import { write } from '#core/text/words';
import type { MeasuredImprint } from './imprint.worker';

/** The part seen straight from above, with its edge, its centre and the centre of the print. */
export function StraightView({ measured, mirrored, found }: { measured: MeasuredImprint; mirrored: boolean; found: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { print, per_mm } = measured;
  const { columns, rows, margin } = print.mask;
  useEffect(() => {
    const picture = found ? measured.found : measured.plain;
    canvas.current?.getContext('2d')?.putImageData(picture, 0, 0);
  }, [measured, found]);
  const middle = { x: columns / 2, y: rows / 2 };
  const centre = { x: middle.x + (mirrored ? -1 : 1) * print.offset.x_mm * per_mm.x, y: middle.y - print.offset.y_mm * per_mm.y };
  return (
    <div className="relative w-full border border-rule" style={{ aspectRatio: `${columns} / ${rows}` }}>
      <canvas
        ref={canvas}
        width={columns}
        height={rows}
        className="absolute inset-0 h-full w-full"
        role="img"
        aria-label={`The part from above: ${write(100 * print.cover, 1)} % covered${print.voids.count > 0 ? `, ${print.voids.count} voids` : ''}`}
      />
      <svg className="absolute inset-0 h-full w-full" viewBox={`0 0 ${columns} ${rows}`} aria-hidden="true">
        {['#000', '#fff'].map((stroke, i) => (
          <g key={stroke} fill="none" stroke={stroke} strokeOpacity={i === 0 ? 0.55 : 1} strokeWidth={i === 0 ? 4 : 1.6}>
            <rect
              x={margin}
              y={margin}
              width={columns - 2 * margin}
              height={rows - 2 * margin}
              strokeDasharray={i === 0 ? undefined : '6 4'}
            />
            <path d={`M${middle.x - 7} ${middle.y}h14M${middle.x} ${middle.y - 7}v14`} />
            <circle cx={centre.x} cy={centre.y} r={6} />
          </g>
        ))}
      </svg>
    </div>
  );
}

/** The straightened part with what was found, as a JPEG to be kept. */
export async function viewOf(measured: MeasuredImprint): Promise<Blob> {
  const { columns, rows } = measured.print.mask;
  const canvas = new OffscreenCanvas(columns, rows);
  canvas.getContext('2d')?.putImageData(measured.found, 0, 0);
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
}
