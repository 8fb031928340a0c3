import { memo } from 'react';
import {
  CartesianGrid,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  usePlotArea,
  XAxis,
  YAxis,
} from 'recharts';
import { type BoundSide, boundWords, OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { keepUnits, write, writeMargin } from '#core/text/words';
import type { AxisRange } from '#core/units/axisRange';
import { boundFrom, boundOfMount } from '#features/results/model/bounds';
import type { CoolerRung } from '#features/results/model/coolers/coolersAnswer';
import type { LevelScale } from '#features/results/model/levelScale';
import type { ArrangedResults } from '#features/results/model/resultsAnswer';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { rampColour } from '#ui/kelvinRamp';
import { MarkShape } from '#ui/SpecimenMark.tsx';
import { useWidth } from '#ui/useWidth';

interface LadderProps {
  title: string;
  specimens: CoolerRung[];
  reference: string | null;
  margin: number;
  range: AxisRange;
  /** of the intervals of the means */
  confidence: number;
  outcome?: OutcomeKey;
  /** on which the levels stand; the outcome's own where none is given */
  scale?: LevelScale;
}

const RUNG = 54;
/** of many, so that eight are seen at once */
const LOW_RUNG = 44;
const HEAD = 30;
const FOOT = 48;
/** where the interval stands beside its mean */
const SECOND = 96;

/** The study as a picture: specimens coolest first, every mount a dot, mean and interval, the margin around the reference. */
export const Ladder = memo(function Ladder({
  title,
  specimens,
  reference,
  margin,
  range,
  confidence,
  outcome = 'rise',
  scale,
}: LadderProps) {
  const { digits, better, unit: step } = OUTCOMES[outcome];
  const { unit, name } = scale ?? OUTCOMES[outcome];
  const sign = better === 'lower' ? 1 : -1;
  const width = useWidth();
  const narrow = width < 700;
  const rung = specimens.length > 6 ? LOW_RUNG : RUNG;
  const rungs = [...specimens].sort((a, b) => sign * (a.mean - b.mean));
  const referenceMean = rungs.find((s) => s.name === reference)?.mean ?? null;
  const { low, high, ticks } = range;
  const means = rungs.map((s) => s.mean);
  const colour = (v: number) => rampColour(sign * v, Math.min(...means.map((m) => sign * m)), Math.max(...means.map((m) => sign * m)));
  const percent = `${Number((100 * confidence).toFixed(1))} %`;
  const bounds = rungs.flatMap((s) => s.mounts.flatMap((m) => boundOfMount(m) ?? []));
  const ways = [...new Set(bounds.map((b) => boundWords(outcome, b.side)))];
  const note = `Dots: mounts. Bars: ${percent} interval of the mean. Specimens that share a group letter are not distinguishable.${ways.length > 0 ? ` Arrow: a mount that ${ways.map((w) => `${w.did}, ${w.from} its figure`).join('; or ')}.` : ''}`;
  const table = {
    columns: [
      'Specimen',
      `Mean / ${unit}`,
      `Low ${percent} / ${unit}`,
      `High ${percent} / ${unit}`,
      'Group',
      ...Array.from({ length: Math.max(...rungs.map((s) => s.mounts.length)) }, (_, i) => `Mount ${i + 1} / ${unit}`),
    ],
    rows: rungs.map((s) => [
      s.name,
      s.mean,
      s.ci?.[0] ?? null,
      s.ci?.[1] ?? null,
      s.group,
      ...s.mounts.map((m) => m.value ?? boundCell(m, outcome)),
    ]),
  };

  const rungAxis = {
    type: 'number',
    dataKey: 'y',
    domain: [-0.5, rungs.length - 0.5],
    ticks: rungs.map((_, i) => i),
    interval: 0,
    reversed: true,
    axisLine: false,
    tickLine: false,
  } as const;

  return (
    <ChartFrame title={`Ladder: ${title}`} table={table} note={note} terms={['mount', 'interval', 'group']}>
      <ResponsiveContainer width="100%" height={HEAD + rung * rungs.length + FOOT}>
        <ScatterChart margin={{ top: HEAD, right: 0, bottom: 18, left: 0 }} accessibilityLayer title={`${name} by specimen: ${title}`}>
          <CartesianGrid horizontal={false} stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="x"
            domain={[low, high]}
            ticks={ticks}
            interval="equidistantPreserveStart"
            minTickGap={6}
            tick={{ fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' }}
            tickLine={{ stroke: 'var(--soft)' }}
            axisLine={{ stroke: 'var(--ink)' }}
            label={{ value: `${name} / ${unit}`, position: 'bottom', offset: 0, fill: 'var(--soft)', fontSize: 13 }}
          />
          <YAxis
            {...rungAxis}
            yAxisId="names"
            width={narrow ? 108 : 170}
            tick={(p) => <NameTick {...p} rungs={rungs} reference={reference} narrow={narrow} />}
          />
          <YAxis
            {...rungAxis}
            yAxisId="figures"
            orientation="right"
            width={narrow ? 66 : 280}
            tick={(p) => <FigureTick {...p} rungs={rungs} rung={rung} narrow={narrow} percent={percent} unit={unit} digits={digits} />}
          />
          {referenceMean !== null && (
            <ReferenceArea
              yAxisId="names"
              x1={referenceMean - margin}
              x2={referenceMean + margin}
              fill="var(--band)"
              fillOpacity={1}
              stroke="none"
              label={<BandName text={`± ${writeMargin(margin)} ${step} of ${reference}`} />}
            />
          )}
          {referenceMean !== null && <ReferenceLine yAxisId="names" x={referenceMean} stroke="var(--ink)" strokeDasharray="1 4" />}
          <RungBars rungs={rungs} low={low} high={high} colour={colour} />
          {/* an axis is drawn only where something hangs on it */}
          <Scatter yAxisId="figures" data={[{ x: low, y: 0 }]} shape={() => <g />} isAnimationActive={false} />
          <Scatter
            yAxisId="names"
            data={mountPoints(rungs, [low, high], unit, outcome)}
            shape={(p: MountPointProps) => <MountDot {...p} />}
            isAnimationActive={false}
          />
          <Scatter
            yAxisId="names"
            data={rungs.map((s, i) => ({ x: s.mean, y: i - 0.14, position: s.position, label: meanLabel(s, percent, unit, digits) }))}
            shape={(p: { cx?: number; cy?: number; payload?: { position: number } }) => (
              <MarkShape position={p.payload?.position ?? 0} x={p.cx} y={p.cy} size={7.5} />
            )}
            isAnimationActive={false}
          />
          <Tooltip cursor={false} isAnimationActive={false} content={({ payload }) => <Hint label={payload?.[0]?.payload?.label} />} />
        </ScatterChart>
      </ResponsiveContainer>
    </ChartFrame>
  );
});

/** The intervals as bars, and a rule under each rung, drawn at once: as error bars of their own they would take most of a redraw. */
function RungBars({ rungs, low, high, colour }: { rungs: CoolerRung[]; low: number; high: number; colour: (value: number) => string }) {
  const plot = usePlotArea();
  if (!plot) return null;
  const x = (v: number) => plot.x + ((Math.min(Math.max(v, low), high) - low) / (high - low)) * plot.width;
  const step = plot.height / rungs.length;
  return (
    <g>
      {rungs.map((s, i) => (
        <g key={s.name}>
          <path d={`M${plot.x} ${plot.y + (i + 1) * step}H${plot.x + plot.width}`} stroke="var(--rule)" />
          {s.ci && (
            <rect
              x={x(s.ci[0])}
              y={plot.y + (i + 0.36) * step - 4.5}
              width={Math.max(0, x(s.ci[1]) - x(s.ci[0]))}
              height={9}
              fill={colour(s.mean)}
            />
          )}
        </g>
      ))}
    </g>
  );
}

const boundCell = (m: CoolerRung['mounts'][number], outcome: OutcomeKey): string | null => {
  const bound = boundOfMount(m);
  return bound && boundFrom(outcome, bound);
};

interface MountPoint {
  x: number;
  y: number;
  /** which way an arrow points, where it has a bound only */
  beyond: BoundSide | null;
  label: string;
}

interface MountPointProps {
  cx?: number;
  cy?: number;
  payload?: MountPoint;
}

/** Dots of the mounts, a little below their rung's middle; a throttled mount stands at its bound, or at the edge where that lies beyond. */
export const mountPoints = (rungs: CoolerRung[], [low, high]: [number, number], unit: string, outcome: OutcomeKey): MountPoint[] =>
  rungs.flatMap((s, i) =>
    s.mounts.flatMap((m): MountPoint[] => {
      const bound = boundOfMount(m);
      const value = m.value ?? bound?.at;
      if (value === undefined) return [];
      const text = bound ? boundFrom(outcome, bound) : `${write(value, OUTCOMES[outcome].digits)} ${unit}`;
      const x = Math.max(low, Math.min(value, high));
      return [{ x, y: i + 0.24, beyond: bound?.side ?? null, label: `${s.name}, mount ${m.mount}: ${text}` }];
    }),
  );

export function MountDot({ cx = 0, cy = 0, payload }: MountPointProps) {
  const way = payload?.beyond === 'below' ? 1 : -1;
  if (payload?.beyond)
    return (
      <path
        d={`M${cx + 12 * way} ${cy - 5}L${cx + 2 * way} ${cy}L${cx + 12 * way} ${cy + 5}M${cx + 22 * way} ${cy}H${cx + 4 * way}`}
        fill="none"
        stroke="var(--ember)"
        strokeWidth={2}
      />
    );
  return <circle cx={cx} cy={cy} r={3.6} fill="var(--ink)" fillOpacity={0.5} />;
}

function meanLabel(s: CoolerRung, percent: string, unit: string, digits: number): string {
  const say = (v: number) => write(v, digits + 1);
  return `${s.name}: ${say(s.mean)} ${unit}${s.ci ? ` (${percent} ${say(s.ci[0])} to ${say(s.ci[1])})` : ', no interval'}`;
}

const Hint = ({ label }: { label?: string }) =>
  label ? <div className="border border-soft bg-leaf px-2 py-1 text-note">{label}</div> : null;

interface TickProps {
  x?: number | string;
  y?: number | string;
  payload?: { value: number };
  rungs: CoolerRung[];
}

/** About what a letter of a note takes, px. */
const LETTER = 6.6;

/** The name of the margin's band above it, moved so that it stays over the rungs. */
function BandName({ text, viewBox }: { text: string; viewBox?: { x: number; y: number; width: number } }) {
  const plot = usePlotArea();
  if (!plot || !viewBox) return null;
  const half = (LETTER * text.length) / 2;
  const x = Math.max(plot.x + half, Math.min(viewBox.x + viewBox.width / 2, plot.x + plot.width - half - 8));
  return (
    <text x={x} y={viewBox.y - 8} textAnchor="middle" fill="var(--soft)" fontSize={13}>
      {text}
    </text>
  );
}

function NameTick({ y, payload, rungs, reference, narrow }: TickProps & { reference: string | null; narrow: boolean }) {
  const s = rungs[payload?.value ?? -1];
  if (!s) return null;
  const left = narrow ? 20 : 28;
  const isReference = s.name === reference;
  const short = s.name.length <= (narrow ? 11 : 15);
  const size = short ? (narrow ? 15 : 18) : 13;
  const lines = short ? [s.name] : wrapName(s.name, narrow ? 13 : 21);
  const top = Number(y) + 6 - (size / 2) * (lines.length - 1) - (isReference ? 8 : 0);
  return (
    <g>
      <title>{s.name}</title>
      <MarkShape position={s.position} x={narrow ? 8 : 11} y={Number(y)} size={narrow ? 6 : 7} />
      {lines.map((line, i) => (
        <text key={line} x={left} y={top + i * (size + 2)} fill="var(--ink)" fontSize={size} fontWeight={600}>
          {line}
        </text>
      ))}
      {isReference && (
        <text x={left} y={top + (lines.length - 1) * (size + 2) + 16} fill="var(--soft)" fontSize={13}>
          reference
        </text>
      )}
    </g>
  );
}

/** A long name on two lines, cut with an ellipsis where even they do not hold it. */
export function wrapName(name: string, most: number): string[] {
  if (name.length <= most) return [name];
  const at = name.lastIndexOf(' ', most);
  const cut = at > most / 3 ? at : most;
  const rest = name.slice(cut).trim();
  return [name.slice(0, cut).trim(), rest.length > most ? `${rest.slice(0, most - 1)}…` : rest];
}

function FigureTick({
  x,
  y,
  payload,
  rungs,
  rung,
  narrow,
  percent,
  unit,
  digits,
}: TickProps & { rung: number; narrow: boolean; percent: string; unit: string; digits: number }) {
  const s = rungs[payload?.value ?? -1];
  if (!s) return null;
  const left = Number(x) + 6;
  const middle = Number(y) + 7;
  const head = payload?.value === 0 ? Number(y) - rung / 2 - 8 : null;
  return (
    <g fill="var(--ink)" fontFamily="var(--font-figure)">
      {head !== null && (
        <g fill="var(--soft)" fontSize={13} fontFamily="var(--font-sans)">
          <text x={left} y={head}>
            mean
          </text>
          {!narrow && (
            <>
              <text x={left + SECOND} y={head}>
                {percent}
              </text>
              <text x={left + 226} y={head}>
                group
              </text>
            </>
          )}
        </g>
      )}
      <text
        x={left}
        y={middle}
        fontSize={narrow ? 18 : 24}
        fontWeight={650}
        fontFamily="var(--font-sans)"
        style={{ fontVariantNumeric: 'tabular-nums' }}
      >
        {write(s.mean, digits)}
        <tspan fontSize={unit.length > 2 ? 12 : 15} fontWeight={400}>
          {`\u202f${narrow && unit.length > 2 ? '' : unit}`}
        </tspan>
      </text>
      {!narrow && s.ci && (
        <text x={left + SECOND} y={middle - 1} fontSize={13} fill="var(--soft)">
          {write(s.ci[0], digits)} to {write(s.ci[1], digits)}
        </text>
      )}
      {!narrow && (
        <text x={left + 226} y={middle - 1} fontSize={15} fontWeight={600}>
          {s.group}
        </text>
      )}
    </g>
  );
}

/** A comparison's claim, and smaller what it rests on. */
export const Headline = ({ headline }: Pick<ArrangedResults, 'headline'>) => (
  <>
    {keepUnits(headline.claim)} <span className="text-title font-normal text-soft">{keepUnits(headline.basis)}</span>
  </>
);

interface AnswerLadderProps {
  title: string;
  reference: string | null;
  confidence: number;
  answer: ArrangedResults;
}

/** The comparison's ladder. */
export const AnswerLadder = ({ title, reference, confidence, answer }: AnswerLadderProps) => (
  <div className="mt-4">
    <Ladder
      title={title}
      specimens={answer.rungs}
      reference={reference}
      margin={answer.margin}
      range={answer.range}
      confidence={confidence}
      outcome={answer.choice.outcome}
      scale={answer.scale}
    />
  </div>
);

/** The specimens that have no place on the ladder, and why. */
export const Unplaced = ({ unplaced }: Pick<ArrangedResults, 'unplaced'>) =>
  unplaced.length === 0 ? null : <p className="mt-2">Without a valid run, so not on the ladder: {unplaced.join('; ')}.</p>;
