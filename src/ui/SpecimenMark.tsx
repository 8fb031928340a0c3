/** Shapes by order of entry in the study; a specimen keeps its mark on every chart. */
const SHAPES = 8;

interface MarkProps {
  position: number;
  x?: number;
  y?: number;
  size?: number;
  hollow?: boolean;
}

/** The mark as a group for use inside a drawing. Beyond the eight shapes they come again, with as many ticks below as times before. */
export function MarkShape({ position, x = 0, y = 0, size = 6, hollow = false }: MarkProps) {
  const round = Math.floor(position / SHAPES);
  if (round === 0) return <Shape {...{ position, x, y, size, hollow }} />;
  const step = 0.55 * size;
  const ticks = Array.from({ length: round }, (_, i) => `M${x + (i - (round - 1) / 2) * step} ${y + size}v${0.5 * size}`).join('');
  return (
    <g>
      <Shape {...{ position, x, hollow }} y={y - 0.3 * size} size={0.8 * size} />
      <path d={ticks} stroke="var(--ink)" strokeWidth={Math.max(1, 0.22 * size)} />
    </g>
  );
}

function Shape({ position, x = 0, y = 0, size = 6, hollow = false }: MarkProps) {
  const colour = 'var(--ink)';
  const solid = { fill: hollow ? 'var(--paper)' : colour, stroke: colour, strokeWidth: hollow ? 1.5 : 0 };
  const open = { fill: 'var(--paper)', stroke: colour, strokeWidth: hollow ? 1.5 : 2.6 };
  const line = { fill: 'none', stroke: colour, strokeWidth: hollow ? 1.5 : 3.2 };
  const s = size;
  switch (position % SHAPES) {
    case 0:
      return <circle cx={x} cy={y} r={s} {...solid} />;
    case 1:
      return <rect x={x - s} y={y - s} width={2 * s} height={2 * s} {...solid} />;
    case 2:
      return <path d={`M${x} ${y - 1.2 * s}L${x + 1.15 * s} ${y + 0.9 * s}L${x - 1.15 * s} ${y + 0.9 * s}Z`} {...solid} />;
    case 3:
      return <path d={`M${x} ${y - 1.35 * s}L${x + 1.35 * s} ${y}L${x} ${y + 1.35 * s}L${x - 1.35 * s} ${y}Z`} {...solid} />;
    case 4:
      return <rect x={x - s + 0.5} y={y - s + 0.5} width={2 * s - 1} height={2 * s - 1} {...open} />;
    case 5:
      return <path d={`M${x - s} ${y}H${x + s}M${x} ${y - s}V${y + s}`} {...line} />;
    case 6:
      return <circle cx={x} cy={y} r={s - 0.5} {...open} />;
    default:
      return (
        <path
          d={`M${x - 0.85 * s} ${y - 0.85 * s}L${x + 0.85 * s} ${y + 0.85 * s}M${x + 0.85 * s} ${y - 0.85 * s}L${x - 0.85 * s} ${y + 0.85 * s}`}
          {...line}
        />
      );
  }
}

/** The mark alone, beside a name. */
export function SpecimenMark({ position, size = 6, hollow = false }: MarkProps) {
  const box = 3 * size;
  return (
    <svg width={box} height={box} viewBox={`${-box / 2} ${-box / 2} ${box} ${box}`} aria-hidden="true" className="shrink-0">
      <MarkShape position={position} size={size} hollow={hollow} />
    </svg>
  );
}

/** A specimen by its mark and name. */
export const SpecimenName = ({ name, position }: { name: string; position: number }) => (
  <span className="flex items-center gap-2">
    <SpecimenMark position={position} size={5} />
    {name}
  </span>
);
