const SIZES = { text: 'text-base', name: 'text-name', title: 'text-title', large: 'text-figure leading-none tracking-tight' };

/** A figure with its unit: digits of even width, the unit smaller beside them. The figure face is for tables; its wide point looks lost at large sizes. */
export const Figure = ({ value, unit, size = 'text' }: { value: string; unit: string; size?: 'text' | 'name' | 'title' | 'large' }) => (
  <span className={`whitespace-nowrap ${SIZES[size]}`}>
    <span className={`font-semibold ${size === 'text' ? 'figure' : 'tabular-nums'}`}>{value}</span>
    <span className="ml-[0.1em] text-[0.75em]">
      {'\u202f'}
      {unit}
    </span>
  </span>
);
