interface FigureProps {
  value: string;
  unit: string;
  size?: 'text' | 'name' | 'title' | 'large';
}

const SIZES = { text: 'text-base', name: 'text-name', title: 'text-title', large: 'text-figure leading-none' };

/** A figure with its unit: digits in the figure face, the unit smaller beside them. */
export function Figure({ value, unit, size = 'text' }: FigureProps) {
  return (
    <span className={`whitespace-nowrap ${SIZES[size]}`}>
      <span className="figure font-semibold">{value}</span>
      <span className="ml-[0.2em] text-[0.75em]">{unit}</span>
    </span>
  );
}
