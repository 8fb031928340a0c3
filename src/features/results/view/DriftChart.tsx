import { memo } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { write } from '#core/text/words';
import { axisRange } from '#core/units/axisRange';
import type { ReferenceDrift } from '#features/results/model/referenceDrift';
import { ChartFrame } from '#ui/ChartFrame.tsx';

interface DriftChartProps {
  drift: ReferenceDrift;
  unit: string;
  digits: number;
}

/** The reference over the days of the study: its mounts, their mean and the limits of their own scatter. */
export const DriftChart = memo(function DriftChart({ drift, unit, digits }: DriftChartProps) {
  const { chart, points, reference } = drift;
  const { low, high, ticks } = axisRange([...points.map((p) => p.value), chart.lower, chart.upper]);
  const tick = { fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' };
  return (
    <ChartFrame
      title={`${reference} over the days`}
      table={{ columns: ['Mount', 'Day', `Value / ${unit}`], rows: points.map((p) => [p.mount, p.day ?? '', p.value]) }}
      note={`Band: control limits (2.66 mean moving ranges). ${drift.sentence}`}
    >
      <ResponsiveContainer width="100%" height={220}>
        <LineChart
          data={points}
          margin={{ top: 10, right: 16, bottom: 22, left: 8 }}
          accessibilityLayer
          title={`${reference} over the days`}
        >
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="t"
            domain={['dataMin - 0.5', 'dataMax + 0.5']}
            ticks={[...new Set(points.map((p) => p.t))]}
            tickFormatter={(t: number) => points.find((p) => p.t === t)?.day?.slice(5) ?? String(points.findIndex((p) => p.t === t) + 1)}
            tick={tick}
            label={{ value: points[0].day ? 'Bench day' : 'Mount', position: 'bottom', offset: 4, fill: 'var(--soft)', fontSize: 13 }}
          />
          <YAxis
            domain={[low, high]}
            ticks={ticks}
            tick={tick}
            width={64}
            label={{ value: `Value / ${unit}`, angle: -90, position: 'insideLeft', fill: 'var(--soft)', fontSize: 13 }}
          />
          <ReferenceArea y1={chart.lower} y2={chart.upper} fill="var(--band)" fillOpacity={1} />
          <ReferenceLine y={chart.centre} stroke="var(--ink)" strokeDasharray="1 4" />
          <Line
            dataKey="value"
            stroke="var(--ink)"
            strokeWidth={1.5}
            dot={{ r: 5, fill: 'var(--ink)', stroke: 'none' }}
            isAnimationActive={false}
          />
          <Tooltip
            isAnimationActive={false}
            content={({ payload }) => {
              const p = payload?.[0]?.payload;
              return p ? (
                <div className="border border-soft bg-leaf px-2 py-1 text-note">{`Mount ${p.mount}${p.day ? `, ${p.day}` : ''}: ${write(p.value, digits + 1)} ${unit}`}</div>
              ) : null;
            }}
          />
        </LineChart>
      </ResponsiveContainer>
    </ChartFrame>
  );
}, sameDrift);

/** Another school leaves the reference's own mounts as they are: the chart is not drawn anew. */
function sameDrift(a: DriftChartProps, b: DriftChartProps): boolean {
  return a.unit === b.unit && JSON.stringify(a.drift) === JSON.stringify(b.drift);
}
