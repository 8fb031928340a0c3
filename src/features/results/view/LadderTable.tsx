import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { STEP_ENDS, type StepEnd } from '#core/stability/ladder';
import type { ClimbRow, LadderTable as LadderTableData } from '#features/results/model/ladderTable';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { MarkShape, SpecimenName } from '#ui/SpecimenMark.tsx';

const SHORT: Record<StepEnd, string> = { passed: 'pass', failed: 'fail', hung: 'hung', did_not_start: 'no start' };

interface LadderTableProps {
  table: LadderTableData;
  specimens: { name: string; position: number }[];
}

/** How every mount climbed: each step with its end, and how far it came; over several voltages a curve a mount. */
export function LadderTable({ table, specimens }: LadderTableProps) {
  const { steps, voltages, rows, load } = table;
  const position = (name: string) => specimens.find((s) => s.name === name)?.position ?? 0;
  const several = new Set(rows.map((r) => r.mount_id)).size < rows.length;
  const named = (r: ClimbRow) => `${r.specimen}, mount ${r.mount}${several ? `, run ${r.run}` : ''}`;
  return (
    <div className="mb-6">
      {load && <h3 className="mb-1 font-semibold">{load}</h3>}
      <div className="overflow-x-auto">
        <table className="text-note" aria-label={load ? `Ladder by mount, ${load}` : 'Ladder by mount'}>
          <thead>
            {voltages.some((v) => v !== null) && (
              <tr>
                <th className="py-1 pr-3 text-left font-normal text-soft" colSpan={2}>
                  Voltage / V
                </th>
                {voltages.map((v) => (
                  <th
                    key={v}
                    colSpan={steps.filter((s) => s.voltage_v === v).length}
                    className="figure border-l border-rule px-2 text-left"
                  >
                    {v === null ? 'as it was' : v}
                  </th>
                ))}
              </tr>
            )}
            <tr className="border-b border-ink">
              <th className="py-1 pr-3 text-left font-normal text-soft">Clock / MHz</th>
              <th className="pr-4 text-left font-normal text-soft">Highest passed</th>
              {steps.map((s) => (
                <th key={`${s.voltage_v} ${s.clock_mhz}`} className="figure px-2 text-right font-normal">
                  {s.clock_mhz}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.run_id} className={`border-b border-rule ${r.left_out ? 'text-soft line-through' : ''}`}>
                <th scope="row" className="py-1.5 pr-3 text-left font-normal whitespace-nowrap">
                  <a href={`/runs/${r.run_id}`} className="inline-flex items-center gap-2">
                    <SpecimenName name={named(r)} position={position(r.specimen)} />
                  </a>
                </th>
                <td className="pr-4 font-semibold whitespace-nowrap">
                  {r.reached.map((w, i) => (
                    <span key={voltages[i]} className="block">
                      {voltages.length > 1 ? `${w} at ${voltages[i]} V` : w}
                    </span>
                  ))}
                </td>
                {r.ends.map((end, i) => (
                  <td
                    key={`${steps[i].voltage_v} ${steps[i].clock_mhz}`}
                    className={`px-2 text-right whitespace-nowrap ${end === 'passed' ? '' : 'font-semibold text-ember'}`}
                    title={end ? `${STEP_ENDS[end]}${r.temperatures[i] === null ? '' : ` at ${r.temperatures[i]} °C`}` : undefined}
                  >
                    {end ? SHORT[end] : <span className="font-normal text-soft">–</span>}
                    {r.temperatures[i] !== null && (
                      <span className="figure block font-normal whitespace-nowrap text-soft">{r.temperatures[i]} °C</span>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {voltages.filter((v) => v !== null).length > 1 && <Curves rows={rows} named={named} position={position} />}
    </div>
  );
}

/** Highest passing clock against voltage, a line a mount. */
function Curves({ rows, named, position }: { rows: ClimbRow[]; named: (r: ClimbRow) => string; position: (name: string) => number }) {
  const voltages = [...new Set(rows.flatMap((r) => r.clocks.flatMap((c) => c.voltage_v ?? [])))].sort((a, b) => a - b);
  const clockAt = (r: ClimbRow, v: number) => r.clocks.find((c) => c.voltage_v === v)?.clock_mhz ?? null;
  const data = voltages.map((v) => ({ v, ...Object.fromEntries(rows.map((r) => [String(r.run_id), clockAt(r, v)])) }));
  const tick = { fill: 'var(--soft)', fontSize: 13, fontFamily: 'var(--font-figure)' };
  return (
    <ChartFrame
      title="Highest passing clock against voltage"
      note="One line per mount, with the mark of its specimen."
      table={{
        columns: ['Mount', ...voltages.map((v) => `${v} V / MHz`)],
        rows: rows.map((r) => [named(r), ...voltages.map((v) => clockAt(r, v))]),
      }}
    >
      <ResponsiveContainer width="100%" height={260}>
        <LineChart
          data={data}
          margin={{ top: 12, right: 24, bottom: 24, left: 12 }}
          accessibilityLayer
          title="Highest passing clock against voltage"
        >
          <CartesianGrid stroke="var(--rule)" vertical={false} />
          <XAxis
            dataKey="v"
            type="number"
            domain={['dataMin', 'dataMax']}
            ticks={voltages}
            tick={tick}
            label={{ value: 'Voltage / V', position: 'bottom', offset: 4, fill: 'var(--soft)', fontSize: 13 }}
          />
          <YAxis
            domain={['dataMin', 'dataMax']}
            ticks={[...new Set(rows.flatMap((r) => r.clocks.flatMap((c) => c.clock_mhz ?? [])))].sort((a, b) => a - b)}
            tick={tick}
            width={72}
            label={{ value: 'Clock / MHz', angle: -90, position: 'insideLeft', fill: 'var(--soft)', fontSize: 13 }}
          />
          {rows.map((r) => (
            <Line
              key={r.run_id}
              dataKey={String(r.run_id)}
              name={named(r)}
              stroke="var(--soft)"
              strokeWidth={1.5}
              dot={(p) => <MarkShape key={p.key} position={position(r.specimen)} x={p.cx} y={p.cy} size={5} />}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </ChartFrame>
  );
}
