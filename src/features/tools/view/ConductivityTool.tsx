import { useState } from 'react';
import { Line, Scatter } from 'recharts';
import { keepUnits } from '#core/text/words';
import { fitBondLine } from '#core/thermal/conductivity/bondLine';
import { axisRange } from '#core/units/axisRange';
import { bondLineSentence, readShims } from '#features/tools/model/conductivity';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { TextArea } from '#ui/Form.tsx';
import { NumberChart } from '#ui/NumberChart.tsx';
import { useNumbers } from '#ui/useNumbers.tsx';
import { CheckedLink } from '#ui/Words.tsx';

const EXAMPLE = '0.10 0.0295\n0.20 0.0470\n0.20 0.0491\n0.30 0.0668\n0.50 0.1042';

/** Conductivity and contact of a material from its resistance at several thicknesses. */
export function ConductivityTool() {
  const [text, setText] = useState(EXAMPLE);
  const { values, box } = useNumbers({
    area: { label: 'Area / mm²', start: 1369, min: 1, max: 1e6 },
    uncertain: { label: 'Error of a thickness / mm', start: 0, min: 0, max: 1 },
  });
  const { area: mm2, uncertain: thickness_u_mm } = values;
  const { readings, problem } = readShims(text);
  const fit = mm2 === null || thickness_u_mm === null || problem ? null : fitBondLine(readings, mm2, { confidence: 0.95, thickness_u_mm });
  const points = mm2 === null ? [] : readings.map((r) => ({ x: r.thickness_mm, y: r.k_per_w * mm2 }));
  const x = axisRange([0, ...points.map((p) => p.x)]);
  const y = axisRange([0, ...points.map((p) => p.y)]);
  const most = Math.max(0, ...points.map((p) => p.x));
  const line = fit?.ok ? [0, most].map((v) => ({ x: v, y: fit.contact + (1000 * v) / fit.k })) : [];
  return (
    <div>
      <p className="text-verdict leading-[1.15] font-semibold" data-testid="conductivity">
        {problem ?? (fit ? keepUnits(bondLineSentence(fit)) : 'A figure is missing or out of its range; the fields say which.')}
      </p>
      <div className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[320px_minmax(0,1fr)]">
        <div>
          <TextArea
            label="Thickness / mm and resistance / K/W"
            hint="One reading a line. Take the differences of a stack that stays otherwise the same; what stays ends up in the contact."
            className="figure h-56"
            value={text}
            onChange={setText}
          />
          <div className="mt-3">{box('area')}</div>
          <div className="mt-3">
            {box('uncertain')}
            <p className="mt-1 text-note text-soft">
              One standard deviation; 0 takes them as exact. Readings of one thickness count as repeats on one shim.
            </p>
          </div>
          <p className="mt-3 text-note text-soft">
            One pressure throughout: bond lines and contacts change with it. The thickness is that under load, not that of the fresh sheet.{' '}
            <CheckedLink subject="conductivity" />
          </p>
        </div>
        {points.length > 0 && (
          <ChartFrame
            title="Resistance times area against thickness"
            table={{ columns: ['Thickness / mm', 'Resistance × area / mm²·K/W'], rows: points.map((p) => [p.x, Number(p.y.toFixed(2))]) }}
            note="Slope: one over the conductivity. Where the line meets no thickness: the contacts."
          >
            <NumberChart
              title="Resistance times area against thickness"
              x={{ ...x, name: 'Thickness / mm', key: 'x' }}
              y={{ ...y, name: 'R · A / mm²·K/W', key: 'y' }}
            >
              <Line data={line} dataKey="y" stroke="var(--ink)" strokeWidth={2} dot={false} activeDot={false} isAnimationActive={false} />
              <Scatter data={points} dataKey="y" fill="var(--ember)" isAnimationActive={false} />
            </NumberChart>
          </ChartFrame>
        )}
      </div>
    </div>
  );
}
