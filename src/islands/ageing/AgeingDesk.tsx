import { CartesianGrid, ComposedChart, Line, ResponsiveContainer, Scatter, Tooltip, usePlotArea, XAxis, YAxis } from 'recharts';
import { write } from '#core/compare/number';
import { type AxisRange, axisRange } from '#core/units/axisRange';
import type { AgedSpecimen, AgeingAnswer, DueMeasurement } from '#domain/ageing/answer';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { keepUnits } from '#ui/keepUnits.ts';
import { MarkShape } from '#ui/SpecimenMark.tsx';

interface AgeingDeskProps {
  answer: AgeingAnswer;
  study: { id: number; title: string; margin_k: number };
}

/** What time does to each specimen: every mount over its age, the course of their mean, and the verdict against the margin. */
export function AgeingDesk({ answer, study }: AgeingDeskProps) {
  const { specimens, headline, due } = answer;
  const [claim, basis] = parted(headline);
  return (
    <>
      <h1 className="mt-4 text-verdict leading-[1.15] font-semibold">
        {keepUnits(claim)} <span className="text-title font-normal text-soft">{keepUnits(basis)}</span>
      </h1>
      <div className="mt-5">
        <AgeChart answer={answer} />
      </div>
      <section className="section-rule mt-8" aria-labelledby="ageing-verdicts">
        <h2 id="ageing-verdicts" className="text-name font-semibold">
          Changed or not, against {write(study.margin_k, 1)} K
        </h2>
        <ul>
          {specimens.map((s) => (
            <li key={s.name} className="border-b border-rule py-2">
              {keepUnits(s.sentence)}
            </li>
          ))}
        </ul>
        <p className="mt-3 max-w-[50rem] text-soft">
          Each mount is followed by itself and has its own start and slope; the interval is that of the slopes from mount to mount. Nothing is said beyond the
          oldest age. A loss that matters calls for a look at the opened interface: dry, pumped out, leaked, corroded or shifted.
        </p>
      </section>
      <Due due={due} studyId={study.id} />
    </>
  );
}

function parted(sentence: string): [string, string] {
  const at = sentence.indexOf(' (');
  return at < 0 ? [sentence, ''] : [sentence.slice(0, at), sentence.slice(at + 1)];
}

function Due({ due, studyId }: { due: DueMeasurement[]; studyId: number }) {
  if (due.length === 0) return null;
  return (
    <section className="section-rule mt-8" aria-labelledby="due">
      <h2 id="due" className="text-name font-semibold">
        To be measured next
      </h2>
      <table className="mt-1 w-full max-w-2xl">
        <thead>
          <tr className="border-b border-ink">
            <th className="py-1 text-left">Mount</th>
            <th className="py-1 text-right">Age / d</th>
            <th className="py-1 text-right">Due</th>
          </tr>
        </thead>
        <tbody>
          {due.map((d) => (
            <tr key={d.mount_id} className="border-b border-rule">
              <td className="py-1.5">
                <a href={`/mounts/${d.mount_id}`}>
                  {d.specimen}, mount {d.mount}
                </a>
              </td>
              <td className="figure text-right">{d.age_days}</td>
              <td className="figure text-right">{new Date(d.due_s * 1000).toISOString().slice(0, 10)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-3">
        <a className="quiet inline-block" href={`/api/studies/${studyId}/due.ics`}>
          Into a calendar
        </a>
      </p>
    </section>
  );
}

const HEIGHT = 380;

function AgeChart({ answer }: { answer: AgeingAnswer }) {
  const { specimens, unit } = answer;
  const values = specimens.flatMap((s) => s.values);
  const x = axisRange([0, ...values.map((v) => v.age)]);
  const y = axisRange(values.map((v) => v.value));
  const xName = `Age / ${unit}`;
  const tick = { fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' };
  return (
    <ChartFrame
      title="Rise against age"
      table={{
        columns: ['Specimen', 'Mount', xName, 'Rise / K'],
        rows: specimens.flatMap((s) => s.values.map((v) => [s.name, v.mount, v.age, Number(v.value.toFixed(2))])),
      }}
      note="Thin lines: each mount by itself. Thick lines: the fitted course of the mean, as far as it was measured."
    >
      <ResponsiveContainer width="100%" height={HEIGHT}>
        <ComposedChart margin={{ top: 12, right: 110, bottom: 26, left: 8 }} accessibilityLayer title="Rise against age">
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="age"
            domain={[x.low, x.high]}
            ticks={x.ticks}
            tick={tick}
            label={{ value: xName, position: 'bottom', offset: 6, fill: 'var(--soft)', fontSize: 13 }}
          />
          <YAxis
            type="number"
            dataKey="value"
            domain={[y.low, y.high]}
            ticks={y.ticks}
            tick={tick}
            width={60}
            label={{ value: 'Rise over ambient / K', angle: -90, position: 'insideLeft', fill: 'var(--soft)', fontSize: 13 }}
          />
          {specimens.flatMap((s) =>
            mountsOf(s).map((own) => (
              <Line
                key={`${s.name} ${own[0].mount}`}
                data={own}
                dataKey="value"
                stroke="var(--soft)"
                strokeWidth={1}
                dot={false}
                activeDot={false}
                isAnimationActive={false}
              />
            )),
          )}
          {specimens.map((s) => (
            <Line key={s.name} data={s.line} dataKey="value" stroke="var(--ink)" strokeWidth={3} dot={false} activeDot={false} isAnimationActive={false} />
          ))}
          {specimens.map((s) => (
            <Scatter
              key={`${s.name} runs`}
              data={s.values}
              dataKey="value"
              name={s.name}
              isAnimationActive={false}
              shape={({ cx, cy }: { cx?: number; cy?: number }) => <MarkShape position={s.position} x={cx} y={cy} size={4.2} />}
            />
          ))}
          <Names x={x} y={y} specimens={specimens} />
          <Tooltip
            isAnimationActive={false}
            cursor={false}
            content={({ payload }) => {
              const p = payload?.find((e) => e.payload?.mount);
              return p ? (
                <div className="border border-soft bg-leaf px-2 py-1 text-note">{`${p.name}, mount ${p.payload.mount}: ${write(p.payload.value, 1)} K at ${p.payload.age} ${unit}`}</div>
              ) : null;
            }}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </ChartFrame>
  );
}

function mountsOf(s: AgedSpecimen) {
  const names = [...new Set(s.values.map((v) => v.mount))];
  return names.map((mount) => s.values.filter((v) => v.mount === mount).sort((a, b) => a.age - b.age));
}

const APART = 17;

/** Names at the ends of the courses. */
function Names({ x, y, specimens }: { x: AxisRange; y: AxisRange; specimens: AgedSpecimen[] }) {
  const plot = usePlotArea();
  if (!plot) return null;
  const ends = specimens
    .flatMap((s) => {
      const last = s.line.at(-1) ?? s.values.at(-1);
      return last
        ? [
            {
              name: s.name,
              x: plot.x + ((last.age - x.low) / (x.high - x.low)) * plot.width,
              y: plot.y + (1 - (last.value - y.low) / (y.high - y.low)) * plot.height,
            },
          ]
        : [];
    })
    .sort((a, b) => a.y - b.y);
  for (let i = 1; i < ends.length; i++) ends[i].y = Math.max(ends[i].y, ends[i - 1].y + APART);
  return (
    <g>
      {ends.map((e) => (
        <text key={e.name} x={e.x + 10} y={e.y + 5} fontSize={14} fontWeight={600} fill="var(--ink)" stroke="var(--paper)" strokeWidth={4} paintOrder="stroke">
          {e.name}
        </text>
      ))}
    </g>
  );
}
