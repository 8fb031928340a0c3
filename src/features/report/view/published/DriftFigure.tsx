import { write } from '#core/text/words';
import { axisRange } from '#core/units/axisRange';
import type { ReferenceDrift } from '#features/results/model/referenceDrift';

const WIDTH = 928;
const HEIGHT = 230;
const PLOT = { left: 84, right: WIDTH - 20, top: 12, bottom: HEIGHT - 44 };

/** The reference over the days of a study as a drawing that stands by itself. */
export function DriftFigure({ drift, unit, digits }: { drift: ReferenceDrift; unit: string; digits: number }) {
  const { chart, points, reference, sentence } = drift;
  const { low, high, ticks } = axisRange([...points.map((p) => p.value), chart.lower, chart.upper]);
  const [first, last] = [points[0].t - 0.5, points[points.length - 1].t + 0.5];
  const x = (t: number) => PLOT.left + ((t - first) / (last - first)) * (PLOT.right - PLOT.left);
  const y = (v: number) => PLOT.bottom - ((v - low) / (high - low)) * (PLOT.bottom - PLOT.top);
  const days = [...new Map(points.map((p) => [p.t, p.day])).entries()];
  // labels that would run into each other are left out
  const every = Math.max(1, Math.ceil(days.length / 14));
  return (
    <svg
      xmlns="http://www.w3.org/2000/svg"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="img"
      aria-labelledby="drift-title drift-desc"
      fontFamily="var(--font-sans)"
      fontSize={13}
    >
      <title id="drift-title">{`${reference} over the days`}</title>
      <desc id="drift-desc">{`Band: control limits (2.66 mean moving ranges). ${sentence}`}</desc>
      <rect x={PLOT.left} y={y(chart.upper)} width={PLOT.right - PLOT.left} height={y(chart.lower) - y(chart.upper)} fill="var(--band)" />
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M${PLOT.left} ${y(t)}H${PLOT.right}`} stroke="var(--rule)" />
          <text x={PLOT.left - 8} y={y(t) + 4} textAnchor="end" fill="var(--soft)" fontFamily="var(--font-figure)">
            {t}
          </text>
        </g>
      ))}
      {days.map(([t, day], i) =>
        i % every === 0 ? (
          <text key={t} x={x(t)} y={PLOT.bottom + 18} textAnchor="middle" fill="var(--soft)" fontFamily="var(--font-figure)">
            {day?.slice(5) ?? i + 1}
          </text>
        ) : null,
      )}
      <text x={(PLOT.left + PLOT.right) / 2} y={HEIGHT - 6} textAnchor="middle" fill="var(--soft)">
        {points[0].day ? 'Bench day' : 'Mount'}
      </text>
      <text transform={`translate(16 ${(PLOT.top + PLOT.bottom) / 2}) rotate(-90)`} textAnchor="middle" fill="var(--soft)">
        {`Value / ${unit}`}
      </text>
      <path d={`M${PLOT.left} ${y(chart.centre)}H${PLOT.right}`} stroke="var(--ink)" strokeDasharray="1 4" />
      <path
        d={points.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p.t)} ${y(p.value)}`).join('')}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.5}
      />
      {points.map((p) => (
        <circle key={`${p.mount} ${p.t}`} cx={x(p.t)} cy={y(p.value)} r={5} fill="var(--ink)">
          <title>{`Mount ${p.mount}${p.day ? `, ${p.day}` : ''}: ${write(p.value, digits + 1)} ${unit}`}</title>
        </circle>
      ))}
    </svg>
  );
}
