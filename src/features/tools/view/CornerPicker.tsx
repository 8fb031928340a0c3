import { useEffect, useRef, useState } from 'react';
import type { PhotoPoint } from '#features/mount/model/imprint';
import type { ImprintDesk, OpenPhoto } from './useImprint';

const NAMES = ['Upper left', 'Upper right', 'Lower right', 'Lower left'];
const LOUPE = 150;
const ZOOM = 4;

/** The photograph with the part's four corners to be pulled onto it, by pointer or by arrow keys, under a loupe. */
export function CornerPicker({ desk, photo, overlay }: { desk: ImprintDesk; photo: OpenPhoto; overlay: boolean }) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const { corners } = desk.reading;
  const laid = overlay ? desk.measured?.overlay : undefined;
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!canvas.current || !context) return;
    canvas.current.width = laid?.width ?? 1;
    canvas.current.height = laid?.height ?? 1;
    if (laid) context.putImageData(laid, 0, 0);
  }, [laid]);
  const put = (i: number, x: number, y: number) => {
    const clamp = (v: number) => Math.max(0, Math.min(1, v));
    desk.change({ corners: corners.map((c, j) => (j === i ? { x: clamp(x), y: clamp(y) } : c)) });
  };
  const drag = (i: number, e: React.PointerEvent) => {
    const box = frame.current?.getBoundingClientRect();
    if (box && held === i) put(i, (e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
  };
  const keys = (i: number, e: React.KeyboardEvent) => {
    const step = e.shiftKey ? 10 : 1;
    const move = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[e.key];
    if (!move) return;
    e.preventDefault();
    put(i, corners[i].x + move[0] / photo.width, corners[i].y + move[1] / photo.height);
  };
  return (
    <div>
      <div
        ref={frame}
        className="relative w-full touch-none select-none overflow-hidden border border-rule"
        style={{ aspectRatio: `${photo.width} / ${photo.height}` }}
      >
        <img src={photo.url} alt={`The photograph ${photo.name}`} className="absolute inset-0 h-full w-full" draggable={false} />
        <canvas ref={canvas} className="absolute inset-0 h-full w-full" aria-label="Covered and bare, as found" role="img" />
        <Outline corners={corners} />
        {corners.map((c, i) => (
          <button
            key={NAMES[i]}
            type="button"
            aria-label={`${NAMES[i]} corner, at ${Math.round(c.x * photo.width)}, ${Math.round(c.y * photo.height)} pixels; arrow keys move it`}
            className="absolute flex size-11 -translate-x-1/2 -translate-y-1/2 cursor-grab items-center justify-center rounded-full"
            style={{ left: `${100 * c.x}%`, top: `${100 * c.y}%` }}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setHeld(i);
            }}
            onPointerMove={(e) => drag(i, e)}
            onPointerUp={() => setHeld(null)}
            onPointerCancel={() => setHeld(null)}
            onKeyDown={(e) => keys(i, e)}
          >
            <span className="flex size-7 items-center justify-center rounded-full border-2 border-white bg-black/55 text-note font-semibold text-white">
              {i + 1}
            </span>
          </button>
        ))}
        {held !== null && <Loupe photo={photo} frame={frame.current} at={corners[held]} />}
      </div>
      <p className="mt-1 text-note text-soft">
        Pull 1 to 4 onto the part’s corners, beginning at the one that is upper left on the part. Arrow keys move a corner by a pixel, with
        Shift by ten.
      </p>
    </div>
  );
}

/** What lies under a corner, four times larger, in the part of the picture that the hand leaves free. */
function Loupe({ photo, frame, at }: { photo: OpenPhoto; frame: HTMLDivElement | null; at: { x: number; y: number } }) {
  if (!frame) return null;
  const { width, height } = frame.getBoundingClientRect();
  return (
    <div
      aria-hidden="true"
      className="pointer-events-none absolute rounded-full border-2 border-white shadow-md"
      style={{
        ...{ width: LOUPE, height: LOUPE, top: 8, [at.x > 0.5 ? 'left' : 'right']: 8 },
        backgroundImage: `url(${photo.url})`,
        backgroundSize: `${ZOOM * width}px ${ZOOM * height}px`,
        backgroundPosition: `${LOUPE / 2 - ZOOM * at.x * width}px ${LOUPE / 2 - ZOOM * at.y * height}px`,
        backgroundRepeat: 'no-repeat',
        backgroundColor: '#000',
      }}
    >
      <svg viewBox="-75 -75 150 150" className="h-full w-full" aria-hidden="true">
        <path d="M-75 0H-8M8 0H75M0 -75V-8M0 8V75" stroke="#000" strokeOpacity={0.6} strokeWidth={3} />
        <path d="M-75 0H-8M8 0H75M0 -75V-8M0 8V75" stroke="#fff" strokeWidth={1} />
      </svg>
    </div>
  );
}

/** The four corners, joined. */
const Outline = ({ corners }: { corners: PhotoPoint[] }) => (
  <svg className="absolute inset-0 h-full w-full" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
    <polygon
      points={corners.map((c) => `${100 * c.x},${100 * c.y}`).join(' ')}
      fill="none"
      stroke="#000"
      strokeOpacity={0.6}
      strokeWidth={4}
      vectorEffect="non-scaling-stroke"
    />
    <polygon
      points={corners.map((c) => `${100 * c.x},${100 * c.y}`).join(' ')}
      fill="none"
      stroke="#fff"
      strokeWidth={2}
      vectorEffect="non-scaling-stroke"
    />
  </svg>
);
