import type { ReactElement, ReactNode } from 'react';
import { CartesianGrid, ComposedChart, ResponsiveContainer, usePlotArea, XAxis, YAxis } from 'recharts';
import type { AxisRange } from '#core/units/axisRange';

interface NumberAxis extends AxisRange {
  name: string;
  /** key of the data */
  key: string;
  /** how a figure of the axis is written */
  write?: (value: number) => string;
}

interface NumberChartProps {
  title: string;
  x: NumberAxis;
  y: NumberAxis;
  height?: number;
  /** room on the right for names at the ends of curves, px */
  right?: number;
  /** marks, curves and what lies over them */
  children: ReactNode;
}

const TICK = { fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' };

/** The ground of a chart of one number against another: grid, both axes with their names, and room on the right. */
export const NumberChart = ({ title, x, y, height = 380, right = 24, children }: NumberChartProps): ReactElement => (
  <ResponsiveContainer width="100%" height={height}>
    <ComposedChart margin={{ top: 12, right, bottom: 26, left: 8 }} accessibilityLayer title={title}>
      <CartesianGrid stroke="var(--rule)" />
      <XAxis
        type="number"
        dataKey={x.key}
        domain={[x.low, x.high]}
        ticks={x.ticks}
        tick={TICK}
        tickFormatter={x.write}
        minTickGap={16}
        allowDataOverflow
        label={{ value: x.name, position: 'bottom', offset: 6, fill: 'var(--soft)', fontSize: 13 }}
      />
      <YAxis
        type="number"
        dataKey={y.key}
        domain={[y.low, y.high]}
        ticks={y.ticks}
        tick={TICK}
        tickFormatter={y.write}
        width={64}
        allowDataOverflow
        label={{ value: y.name, angle: -90, position: 'insideLeft', fill: 'var(--soft)', fontSize: 13, style: { textAnchor: 'middle' } }}
      />
      {children}
    </ComposedChart>
  </ResponsiveContainer>
);

interface EndNamesProps {
  x: AxisRange;
  y: AxisRange;
  /** where each curve ends, and its name */
  ends: { name: string; x: number; y: number }[];
}

/** Names side by side nearer than this would lie over each other, px. */
const NAME_WIDTH = 90;
const LINE = 17;

/** Names at the ends of the curves, moved apart where they would lie over each other. */
export function EndNames({ x, y, ends }: EndNamesProps): ReactElement | null {
  const place = usePlace(x, y);
  if (!place) return null;
  const placed = ends.map((e) => ({ name: e.name, ...place(e.x, e.y) })).sort((a, b) => a.py - b.py);
  for (let i = 1; i < placed.length; i++)
    if (Math.abs(placed[i].px - placed[i - 1].px) < NAME_WIDTH) placed[i].py = Math.max(placed[i].py, placed[i - 1].py + LINE);
  return (
    <g>
      {placed.map((e) => (
        <text
          key={e.name}
          x={e.px + 10}
          y={e.py + 5}
          fontSize={14}
          fontWeight={600}
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {e.name}
        </text>
      ))}
    </g>
  );
}

/** From the two numbers of a point to its place in the drawing; null before the drawing has a size. */
export function usePlace(x: AxisRange, y: AxisRange): ((vx: number, vy: number) => { px: number; py: number }) | null {
  const plot = usePlotArea();
  if (!plot) return null;
  return (vx, vy) => ({
    px: plot.x + ((vx - x.low) / (x.high - x.low)) * plot.width,
    py: plot.y + (1 - (vy - y.low) / (y.high - y.low)) * plot.height,
  });
}
