import { Line, ReferenceArea, ReferenceLine } from 'recharts';
import type { StructurePoint } from '#core/thermal/transient/cauer';
import type { Parting, StepLayer } from '#core/thermal/transient/types';
import { axisRange } from '#core/units/axisRange';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { NumberChart } from '#ui/NumberChart.tsx';

/** Decades of stored heat that are drawn. */
const DECADES = 4;

interface Mount {
  name: string;
  curve: StructurePoint[];
  layers: StepLayer[];
}

/**
 * Heat that is stored against resistance from the sensor: flat where heat is held up, steep where it is stored; and where two mounts part.
 */
export function StructureChart({ mounts, parting }: { mounts: Mount[]; parting: Parting | null }) {
  const drawn = mounts.map((m) => ({ name: m.name, stairs: stairsOf(m), curve: curveOf(m) }));
  const all = drawn.flatMap((d) => d.stairs);
  const x = axisRange([0, ...all.map((p) => p.x)]);
  const high = Math.ceil(Math.max(...all.map((p) => p.y)) + 0.1);
  // what stores next to nothing begins at the foot
  const low = Math.max(Math.floor(Math.min(...all.map((p) => p.y))), high - DECADES);
  const onAxis = (points: { x: number; y: number }[]) => points.map((p) => ({ x: p.x, y: Math.max(low, p.y) }));
  const y = { low, high, ticks: Array.from({ length: high - low + 1 }, (_, i) => low + i) };
  const at = parting?.at ?? null;
  return (
    <ChartFrame
      title="Stored heat against resistance from the sensor"
      table={{
        columns: ['Mount', 'From the sensor / K/W', 'Stored up to there / J/K'],
        rows: mounts.flatMap(({ name, curve }) => curve.map((p) => [name, Number(p.r.toFixed(4)), Number(p.c.toPrecision(4))])),
      }}
      note={`${drawn.length > 1 ? 'Full lines: the first mount. Dashed: the second. ' : ''}Stairs: the fewest layers that tell the step. Thin lines: the whole spectrum. Flat: heat is held up. Steep: heat is stored.`}
    >
      <NumberChart
        title="Stored heat against resistance from the sensor"
        x={{ ...x, name: 'From the sensor / K/W', key: 'x' }}
        y={{ ...y, name: 'Stored up to there / J/K', key: 'y', write: (v) => String(Number((10 ** v).toPrecision(3))) }}
        right={40}
      >
        {at && at.value > 0 && (
          <ReferenceArea x1={Math.max(0, at.value - 1.96 * at.se)} x2={at.value + 1.96 * at.se} fill="var(--ember)" fillOpacity={0.25} />
        )}
        {at && (
          <ReferenceLine
            x={at.value}
            stroke="var(--ember)"
            strokeWidth={2}
            label={{ value: 'they part', position: 'insideTopLeft', fill: 'var(--ink)', fontSize: 14, fontWeight: 600 }}
          />
        )}
        {drawn.map((d, i) => (
          <Line
            key={`${d.name} curve`}
            data={onAxis(d.curve)}
            dataKey="y"
            stroke="var(--soft)"
            strokeWidth={1}
            strokeDasharray={i > 0 ? '5 3' : undefined}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        ))}
        {drawn.map((d, i) => (
          <Line
            key={d.name}
            data={onAxis(d.stairs)}
            dataKey="y"
            stroke="var(--ink)"
            strokeWidth={2.6}
            strokeDasharray={i > 0 ? '9 5' : undefined}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        ))}
      </NumberChart>
    </ChartFrame>
  );
}

/** The ladder as stairs: up where a node stores, on where a layer holds up. */
function stairsOf({ layers }: Mount): { x: number; y: number }[] {
  let stored = 0;
  let from = 0;
  return layers.flatMap((l) => {
    stored += l.c.value;
    const step = [
      { x: from, y: Math.log10(stored) },
      { x: l.least === null ? l.until.value : from + l.least, y: Math.log10(stored) },
    ];
    from = l.until.value;
    return step;
  });
}

/** The curve of the whole spectrum, as far as the body reaches: the room beyond it stores without end. */
function curveOf({ curve, layers }: Mount): { x: number; y: number }[] {
  const most = 3 * layers.reduce((sum, l) => sum + l.c.value, 0);
  return curve.filter((p) => p.c <= most).map((p) => ({ x: p.r, y: Math.log10(p.c) }));
}
