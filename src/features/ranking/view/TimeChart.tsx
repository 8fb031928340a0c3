import { ReferenceArea, ReferenceLine, Scatter, Tooltip } from 'recharts';
import { write } from '#core/text/words';
import { axisRange } from '#core/units/axisRange';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { NumberChart } from '#ui/NumberChart.tsx';

/** A value at a moment. */
export interface TimePoint {
  at_s: number;
  value: number;
  words: string;
}

interface TimeChartProps {
  title: string;
  /** of the axis, with its unit */
  name: string;
  points: TimePoint[];
  /** levels as they were from one moment to another */
  levels?: { from_s: number; to_s: number; value: number }[];
  /** band of what is usual, from a moment on */
  band?: { from_s: number; low: number; high: number } | null;
  /** moments that are marked with a line */
  marks?: { at_s: number; words: string; isStrong: boolean }[];
  note: string;
  digits: number;
}

const TICKS = 6;
/** A day at the end of the axis is written to both sides of its place. */
const HALF_A_DAY_PX = 44;
const DAY_S = 86_400;

/** Midnights at which days stand, evenly over a span. */
function dayTicks(low: number, high: number): number[] {
  const days = Math.max(1, Math.floor((high - low) / DAY_S));
  const every = Math.max(1, Math.round(days / TICKS));
  const first = Math.ceil(low / DAY_S);
  return Array.from({ length: Math.floor((Math.floor(high / DAY_S) - first) / every) + 1 }, (_, i) => (first + i * every) * DAY_S);
}

const day = (at_s: number) => new Date(1000 * at_s).toISOString().slice(0, 10);

/** Values over months and years, with levels, a band and moments. */
export function TimeChart({ title, name, points, levels = [], band = null, marks = [], note, digits }: TimeChartProps) {
  const times = points.map((p) => p.at_s);
  const [first, last] = [Math.min(...times), Math.max(...times)];
  const room = Math.max(0.04 * (last - first), DAY_S);
  const x = { low: first - room, high: last + room };
  const ticks = dayTicks(x.low, x.high);
  const y = axisRange([...points.map((p) => p.value), ...(band ? [band.low, band.high] : [])]);
  const within = marks.filter((m) => m.at_s > x.low && m.at_s < x.high);
  return (
    <ChartFrame
      title={title}
      table={{
        columns: ['Day', name, 'What'],
        rows: [...points.map((p) => [day(p.at_s), p.value, p.words]), ...within.map((m) => [day(m.at_s), null, m.words])],
      }}
      note={note}
    >
      <NumberChart
        title={title}
        x={{ ...x, ticks, name: 'Day', key: 'at_s', write: day }}
        y={{ ...y, name, key: 'value' }}
        height={280}
        right={HALF_A_DAY_PX}
      >
        {band && (
          <ReferenceArea x1={Math.max(band.from_s, x.low)} x2={x.high} y1={band.low} y2={band.high} fill="var(--band)" fillOpacity={1} />
        )}
        {levels.map((l) => (
          <ReferenceLine
            key={l.from_s}
            segment={[
              { x: Math.max(l.from_s, x.low), y: l.value },
              { x: Math.min(l.to_s, x.high), y: l.value },
            ]}
            stroke="var(--ink)"
            strokeWidth={1.5}
          />
        ))}
        {within.map((m) => (
          <ReferenceLine
            key={`${m.at_s} ${m.words}`}
            x={m.at_s}
            stroke={m.isStrong ? 'var(--ink)' : 'var(--soft)'}
            strokeWidth={m.isStrong ? 2 : 1}
            strokeDasharray={m.isStrong ? undefined : '2 4'}
          />
        ))}
        <Scatter data={points} fill="var(--ink)" isAnimationActive={false} />
        <Tooltip
          isAnimationActive={false}
          content={({ payload }) => {
            const p = payload?.[0]?.payload as TimePoint | undefined;
            return p ? (
              <div className="border border-soft bg-leaf px-2 py-1 text-note">{`${day(p.at_s)}: ${write(p.value, digits)}, ${p.words}`}</div>
            ) : null;
          }}
        />
      </NumberChart>
    </ChartFrame>
  );
}
