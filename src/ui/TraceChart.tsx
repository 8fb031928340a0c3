import { memo, type ReactNode } from 'react';
import { Line, LineChart, ReferenceArea, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { ChannelLine } from '#core/signal/trace/downsample';
import { write } from '#core/text/words';
import { ChartFrame } from './ChartFrame.tsx';
import { useWidth } from './useWidth';

export interface StageBand {
  stage: string;
  start_s: number;
  end_s: number;
}

interface TraceChartProps {
  title: string;
  lines: ChannelLine[];
  stages: StageBand[];
  window: { start_s: number; end_s: number } | null;
  duration_s: number;
  height?: number;
  /** strips below the rise; the preview shows fewer */
  strips?: string[];
  /** what is shown of the run, s; the whole of it where nothing is said */
  range?: [number, number];
  /** other runs laid beneath the main line, on the clock of this one */
  beside?: ChannelLine[];
  /** laid over the plot of all strips, from its left edge to its right */
  children?: ReactNode;
}

const STRIPS: Record<string, { title: string; unit: string; digits: number }> = {
  ambient: { title: 'Ambient', unit: '°C', digits: 2 },
  coolant: { title: 'Coolant', unit: '°C', digits: 1 },
  power: { title: 'Power', unit: 'W', digits: 1 },
  clock: { title: 'Clock', unit: 'MHz', digits: 0 },
  fan: { title: 'Fan', unit: 'rpm', digits: 0 },
  noise: { title: 'Noise', unit: 'dB', digits: 1 },
};
const STAGE_NAMES: Record<string, string> = { idle: 'idle', boost: 'boost', sustained: 'load', cooldown: 'cool-down' };
/** Plot edges, px: what is laid over the chart keeps to them. */
export const LEFT = 64;
export const RIGHT = 12;
const TOP = 22;
const BOTTOM = 48;

/** Rise, ambient, power, fan and clock of one run on one time axis, with its stages and averaging window. */
export function TraceChart({ title, lines, children, ...drawn }: TraceChartProps) {
  const { shown, unit } = mainLines(lines);
  const table = {
    columns: ['Time / s', ...shown.map((l) => `${l.name} / ${unit}`)],
    rows: (shown[0]?.t ?? []).map((t, i) => [t, ...shown.map((l) => l.v[i] ?? null)]),
  };
  return (
    <ChartFrame title={title} table={table}>
      <div className="relative">
        <Strips lines={lines} {...drawn} />
        {children && (
          <div className="absolute" style={{ left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM }}>
            {children}
          </div>
        )}
      </div>
    </ChartFrame>
  );
}

/** The rise, or the temperatures where there is none. */
function mainLines(lines: ChannelLine[]): { shown: ChannelLine[]; unit: string } {
  const rise = lines.filter((l) => l.role === 'rise');
  return rise.length > 0 ? { shown: rise, unit: 'K' } : { shown: lines.filter((l) => l.role === 'sensor'), unit: '°C' };
}

const USUAL_STRIPS = ['ambient', 'power', 'fan', 'clock'];
const NOTHING: ChannelLine[] = [];

/** The strips themselves, drawn anew only when what they show changes: what is laid over them may move meanwhile. */
const Strips = memo(function Strips({
  lines,
  stages,
  window,
  duration_s,
  height = 300,
  strips = USUAL_STRIPS,
  range,
  beside = NOTHING,
}: Omit<TraceChartProps, 'title' | 'children'>) {
  const { shown, unit } = mainLines(lines);
  const below = strips.filter((role) => lines.some((l) => l.role === role));
  const common = { stages, window, range: range ?? ([0, duration_s] as [number, number]) };
  return (
    <>
      <Strip
        label={unit === 'K' ? 'ΔT over ambient / K' : 'Temperature / °C'}
        hint={unit === 'K' ? 'Rise' : 'Sensors'}
        unit={unit}
        digits={1}
        lines={shown}
        beside={beside}
        {...common}
        height={height + (below.length === 0 ? 34 : 0)}
        last={below.length === 0}
        named
      />
      {below.map((role, i) => (
        <Strip
          key={role}
          label={`${STRIPS[role].title} / ${STRIPS[role].unit}`}
          hint={STRIPS[role].title}
          unit={STRIPS[role].unit}
          digits={STRIPS[role].digits}
          lines={lines.filter((l) => l.role === role)}
          {...common}
          height={78 + (i === below.length - 1 ? 38 : 0)}
          last={i === below.length - 1}
        />
      ))}
    </>
  );
});

interface StripProps {
  label: string;
  hint: string;
  unit: string;
  digits: number;
  lines: ChannelLine[];
  stages: StageBand[];
  window: { start_s: number; end_s: number } | null;
  range: [number, number];
  beside?: ChannelLine[];
  height: number;
  last: boolean;
  named?: boolean;
}

/** One quantity against time; strips share their left edge and scale, so that a moment stands above itself. */
function Strip({ label, hint, unit, digits, lines, stages, window, range, beside = [], height, last, named = false }: StripProps) {
  // a stage too narrow for its name goes without
  const least = Math.min(0.3, 90 / useWidth());
  const duration = range[1] - range[0];
  const values = [...lines, ...beside].flatMap((l) => l.v.filter((v): v is number => v !== null));
  const { domain, ticks } = axisOf(values, named ? 6 : 2);
  return (
    <div className={named ? '' : 'mt-1'}>
      {!named && <div className="pl-16 text-note text-soft">{label}</div>}
      <ResponsiveContainer width="100%" height={height}>
        <LineChart
          syncId="trace"
          syncMethod="value"
          margin={{ top: named ? TOP : 4, right: RIGHT, bottom: last ? 18 : 6, left: 0 }}
          accessibilityLayer
          title={label}
        >
          {spansIn(stages, range).map((s, i) => (
            <ReferenceArea
              key={`${s.stage} ${s.start_s}`}
              x1={s.start_s}
              x2={s.end_s}
              fill={s.stage === 'idle' || s.stage === 'cooldown' ? 'transparent' : 'var(--band)'}
              fillOpacity={i % 2 === 0 ? 0.7 : 1}
              stroke="var(--rule)"
              label={
                named && s.end_s - s.start_s > least * duration
                  ? { value: STAGE_NAMES[s.stage] ?? s.stage, position: 'top', offset: 6, fill: 'var(--soft)', fontSize: 13 }
                  : undefined
              }
            />
          ))}
          {spansIn(window ? [window] : [], range).map((w) => (
            <ReferenceArea
              key="window"
              x1={w.start_s}
              x2={w.end_s}
              fill="var(--ember)"
              fillOpacity={0.22}
              stroke="var(--ember)"
              label={named ? { value: 'window', position: 'insideBottom', fill: 'var(--ember)', fontSize: 13, fontWeight: 600 } : undefined}
            />
          ))}
          <XAxis
            type="number"
            dataKey="t"
            domain={range}
            ticks={minuteTicks(range)}
            tickFormatter={(s: number) => (last ? String(Number((s / 60).toFixed(2))) : '')}
            height={last ? 30 : 4}
            tick={{ fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' }}
            tickLine={last}
            axisLine={{ stroke: 'var(--soft)' }}
            allowDataOverflow
            label={
              last
                ? { value: 'Time from the first sample / min', position: 'bottom', offset: 0, fill: 'var(--soft)', fontSize: 13 }
                : undefined
            }
          />
          <YAxis
            width={LEFT}
            domain={domain}
            ticks={ticks}
            interval={0}
            tick={{ fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' }}
            axisLine={false}
            tickLine={false}
            label={
              named
                ? {
                    value: label,
                    angle: -90,
                    position: 'insideLeft',
                    offset: 8,
                    style: { textAnchor: 'middle' },
                    fill: 'var(--soft)',
                    fontSize: 13,
                  }
                : undefined
            }
          />
          {beside.map((l) => (
            <Line
              key={l.name}
              data={pointsIn(l, range)}
              dataKey="v"
              name={l.name}
              stroke="var(--soft)"
              strokeDasharray="4 3"
              strokeWidth={1.3}
              dot={false}
              activeDot={false}
              isAnimationActive={false}
              connectNulls={false}
            />
          ))}
          {lines.map((l) => (
            <Line
              key={l.name}
              data={pointsIn(l, range)}
              dataKey="v"
              name={l.name}
              stroke="var(--ink)"
              strokeWidth={named ? 1.8 : 1.3}
              dot={false}
              activeDot={{ r: 3, fill: 'var(--ember)' }}
              isAnimationActive={false}
              connectNulls={false}
            />
          ))}
          <Tooltip
            isAnimationActive={false}
            cursor={{ stroke: 'var(--soft)', strokeDasharray: '2 3' }}
            content={({ payload, label: at }) => {
              const value = payload?.[0]?.value;
              if (typeof value !== 'number') return null;
              return (
                <div className="border border-soft bg-leaf px-2 py-1 text-note">
                  {hint} <span className="figure">{write(value, digits)}</span> {unit} at{' '}
                  <span className="figure">{write(Number(at) / 60, 1)}</span> min
                </div>
              );
            }}
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}

/** Round axis ends and about the wanted number of ticks. */
function axisOf(values: number[], wanted: number): { domain: [number, number]; ticks: number[] } {
  if (values.length === 0) return { domain: [0, 1], ticks: [0, 1] };
  const least = values.reduce((a, b) => Math.min(a, b));
  const most = values.reduce((a, b) => Math.max(a, b));
  const span = Math.max(most - least, 1e-3 * Math.abs(most), 0.1);
  const raw = span / wanted;
  const scale = 10 ** Math.floor(Math.log10(raw));
  const step = scale * ([1, 2, 5, 10].find((m) => m * scale >= raw) ?? 10);
  const low = Math.floor(least / step) * step;
  const high = Math.max(Math.ceil(most / step) * step, low + step);
  const count = Math.round((high - low) / step);
  return { domain: [low, high], ticks: Array.from({ length: count + 1 }, (_, i) => Number((low + i * step).toPrecision(8))) };
}

/** Round minutes within the range, or round parts of one where it is short. */
/** Points of a line that are seen, with one beyond either edge: what lies outside is not drawn, and zooming redraws the less for it. */
function pointsIn(line: ChannelLine, [from, to]: [number, number]): { t: number; v: number | null }[] {
  const points: { t: number; v: number | null }[] = [];
  for (let i = 0; i < line.t.length; i++) {
    const before = i + 1 < line.t.length && line.t[i + 1] < from;
    const after = i > 0 && line.t[i - 1] > to;
    if (!before && !after) points.push({ t: line.t[i], v: line.v[i] });
  }
  return points;
}

export function minuteTicks([from, to]: [number, number]): number[] {
  const step =
    60 *
    ([0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 240].find((m) => (to - from) / 60 / m <= 10) ?? Math.ceil((to - from) / 600));
  const first = Math.ceil(from / step - 1e-9);
  return Array.from({ length: Math.max(0, Math.floor(to / step + 1e-9) - first + 1) }, (_, i) => (first + i) * step);
}

/** Spans that are seen in the range, cut to it. */
const spansIn = <T extends { start_s: number; end_s: number }>(spans: T[], [from, to]: [number, number]): T[] =>
  spans.map((s) => ({ ...s, start_s: Math.max(s.start_s, from), end_s: Math.min(s.end_s, to) })).filter((s) => s.end_s > s.start_s);
