import { memo } from 'react';
import { Line, ReferenceLine, Scatter, Tooltip } from 'recharts';
import { write } from '#core/text/words';
import { riseAt } from '#core/thermal/coolers/coolerFit';
import { levelRange, type Sweep } from '#core/thermal/coolers/sweep';
import { levelAt, rpmAtLevel } from '#core/thermal/noise/levelFit';
import { type AxisRange, axisRange } from '#core/units/axisRange';
import type { CoolerFigure, CoolerQuestion } from '#features/results/model/coolers/figures';
import type { StudyFacts } from '#features/results/model/facts';
import { soundUnit } from '#features/results/model/sweeps';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { EndNames, NumberChart, usePlace } from '#ui/NumberChart.tsx';
import { MarkShape } from '#ui/SpecimenMark.tsx';

interface CurveChartProps {
  facts: StudyFacts;
  sweeps: Sweep[];
  question: CoolerQuestion;
  figures: CoolerFigure[];
}

interface Curve {
  name: string;
  position: number;
  line: { x: number; y: number }[];
  points: { x: number; y: number; mount: string; rpm: number }[];
}

const SAMPLES = 60;

/** Rise against noise, or against fan speed: every run a mark, every cooler a curve, and where they are held alike. */
export function CurveChart({ facts, sweeps, question, figures }: CurveChartProps) {
  const byNoise = question.by === 'noise' || question.by === 'rise';
  const curves = sweeps.flatMap((s): Curve[] => {
    const position = facts.specimens.find((f) => f.name === s.specimen)?.position ?? 0;
    const curve = byNoise ? overLevel(s) : overSpeed(s);
    return curve ? [{ name: s.specimen, position, ...curve }] : [];
  });
  const all = curves.flatMap((c) => [...c.line, ...c.points]);
  if (all.length === 0) return null;
  const x = axisRange(all.map((p) => p.x));
  const y = axisRange(all.map((p) => p.y));
  const xName = byNoise ? `Noise / ${soundUnit(facts.sound)}` : 'Fan speed / rpm';
  const marks = figures.flatMap((f) => {
    const at = byNoise ? f.level : f.rpm;
    const position = curves.find((c) => c.name === f.specimen)?.position;
    return at === null || f.rise === null || position === undefined ? [] : [{ x: at, y: f.rise, position }];
  });
  const rows = curves.flatMap((c) =>
    c.points.map((p) => [c.name, p.mount, Math.round(p.rpm), Number(p.x.toFixed(byNoise ? 1 : 0)), Number(p.y.toFixed(2))]),
  );
  return (
    <ChartFrame
      title={`Rise against ${byNoise ? 'noise' : 'fan speed'}`}
      table={{ columns: ['Cooler', 'Mount', 'Fan / rpm', xName, 'ΔT / K'], rows }}
      note={`Small marks: runs${byNoise ? ', at the level of their speed' : ''}. Curves end where the measured speeds end. Large marks: each cooler at the level compared.`}
    >
      <NumberChart
        title={`Rise against ${byNoise ? 'noise' : 'fan speed'}`}
        x={{ ...x, name: xName, key: 'x' }}
        y={{ ...y, name: 'ΔT over ambient / K', key: 'y' }}
        right={96}
      >
        {question.by === 'rise' ? (
          <ReferenceLine y={question.at} stroke="var(--ember)" strokeWidth={2} />
        ) : (
          question.by !== 'full' && <ReferenceLine x={question.at} stroke="var(--ember)" strokeWidth={2} />
        )}
        {curves.map((c) => (
          <Line
            key={c.name}
            data={c.line}
            dataKey="y"
            name={c.name}
            stroke="var(--ink)"
            strokeWidth={1.8}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        ))}
        {curves.map((c) => (
          <Scatter
            key={`${c.name} runs`}
            data={c.points}
            dataKey="y"
            name={c.name}
            isAnimationActive={false}
            shape={({ cx, cy }: { cx?: number; cy?: number }) => (
              <g opacity={0.55}>
                <MarkShape position={c.position} x={cx} y={cy} size={3.4} />
              </g>
            )}
          />
        ))}
        <EndNames x={x} y={y} ends={curves.map((c) => ({ name: c.name, ...c.line[c.line.length - 1] }))} />
        <HeldAlike x={x} y={y} marks={marks} />
        <Tooltip
          isAnimationActive={false}
          cursor={false}
          content={({ payload }) => {
            const p = payload?.find((e) => e.payload?.mount)?.payload;
            const name = payload?.find((e) => e.payload?.mount)?.name;
            return p ? (
              <div className="border border-soft bg-leaf px-2 py-1 text-note">{`${name}, mount ${p.mount}: ${write(p.y, 1)} K at ${write(p.rpm, 0)} rpm`}</div>
            ) : null;
          }}
        />
      </NumberChart>
    </ChartFrame>
  );
}

interface HeldAlikeProps {
  x: AxisRange;
  y: AxisRange;
  marks: { x: number; y: number; position: number }[];
}

/** Each cooler's mark where they are held alike. */
const HeldAlike = memo(function HeldAlike({ x, y, marks }: HeldAlikeProps) {
  const place = usePlace(x, y);
  if (!place) return null;
  return (
    <g>
      {marks.map((m) => {
        const { px, py } = place(m.x, m.y);
        return (
          <g key={m.position} stroke="var(--paper)">
            <circle cx={px} cy={py} r={12} fill="var(--paper)" stroke="var(--ember)" strokeWidth={1.5} />
            <MarkShape position={m.position} x={px} y={py} size={6.5} />
          </g>
        );
      })}
    </g>
  );
});

function overLevel(s: Sweep): Pick<Curve, 'line' | 'points'> | null {
  const { rise, level } = s;
  const range = levelRange(s);
  if (!rise || !level || !range) return null;
  const at = (i: number) => range[0] + ((range[1] - range[0]) * i) / (SAMPLES - 1);
  return {
    line: Array.from({ length: SAMPLES }, (_, i) => ({ x: at(i), y: riseAt(rise, rpmAtLevel(level, at(i))) })),
    points: runsOf(s)
      .map((p) => ({ ...p, x: levelAt(level, p.rpm) }))
      .filter((p) => p.x >= range[0] - 0.5 && p.x <= range[1] + 0.5),
  };
}

function overSpeed(s: Sweep): Pick<Curve, 'line' | 'points'> | null {
  const { rise } = s;
  if (!rise) return null;
  const [low, high] = rise.rpm;
  const at = (i: number) => low + ((high - low) * i) / (SAMPLES - 1);
  return {
    line: Array.from({ length: SAMPLES }, (_, i) => ({ x: at(i), y: riseAt(rise, at(i)) })),
    points: runsOf(s).map((p) => ({ ...p, x: p.rpm })),
  };
}

const runsOf = (s: Sweep): { y: number; mount: string; rpm: number }[] =>
  s.points.flatMap((p) => (p.rise === null ? [] : [{ y: p.rise, mount: p.mount, rpm: p.rpm }]));
