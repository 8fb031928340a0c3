import { contours } from 'd3-contour';
import { useMemo, useState } from 'react';
import { write, writeSigned } from '#core/text/words';
import { type Flatness, flatness, gapResistance, oddHeights, removedBetween } from '#core/thermal/flatness/flatness';
import { heightMap } from '#core/thermal/flatness/heightMap';
import { readHeights } from '#core/thermal/flatness/readHeights';
import type { ToolSetting } from '#features/tools/server/toolSetting';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { Alert, NumberBox, numberWithin, TextArea, TextBox } from '#ui/Form.tsx';
import { Figure, Told } from '#ui/Words.tsx';
import { GapPanel } from './GapPanel.tsx';
import { SaveInto } from './SaveInto.tsx';

/** A lid a few micrometres higher in the middle, so that the tool shows what it does before anything is entered. */
const EXAMPLE = `x  y  µm
0 0 2
18 0 6
36 0 1
0 18 7
18 18 14
36 18 6
0 36 0
18 36 5
36 36 3`;

const LEVELS = 9;

/** How flat a face is, what lapping took, and whether a neighbour holds the cooler off. */
export function FlatnessTool({ setting }: { setting: ToolSetting }) {
  const { mount } = setting;
  const [text, setText] = useState(mount?.heights || EXAMPLE);
  const [later, setLater] = useState(mount?.heights_after || '');
  const [thickness, setThickness] = useState('');
  const [conductivity, setConductivity] = useState('5');
  const now = useMemo(() => readHeights(text), [text]);
  const after = useMemo(() => readHeights(later), [later]);
  const face = useMemo(() => flatness(now.readings), [now]);
  const lapped = useMemo(() => flatness(after.readings), [after]);
  const odd = useMemo(() => oddHeights(now.readings), [now]);
  const thick = numberWithin(thickness, 0.01, 100);
  const removed = after.readings.length > 0 ? removedBetween(now.readings, after.readings, thick === null ? null : 1000 * thick) : null;
  const k = numberWithin(conductivity, 0.01, 5000);
  return (
    <div>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[320px_minmax(0,1fr)]">
        <div className="flex flex-col gap-3">
          <TextArea {...heights(now.problems)} label="Heights: x and y in mm, readings in µm" value={text} onChange={setText} rows={11} />
          <TextArea {...heights(after.problems)} label="After lapping, the same points" value={later} onChange={setLater} rows={4} />
          <div className="grid grid-cols-2 gap-4">
            <TextBox label="Thickness before / mm" className="figure" inputMode="decimal" value={thickness} onChange={setThickness} />
            <NumberBox label="Material / W/(m·K)" value={conductivity} onChange={setConductivity} min={0.01} max={5000} />
          </div>
        </div>
        {face ? (
          <div>
            <p className="flex flex-wrap items-end gap-x-3" data-testid="flatness">
              <Figure value={write(face.peak_to_valley_um, 1)} unit="µm" size="large" />
              <span className="pb-1">
                peak to valley, its best plane taken out{lapped && `; ${write(lapped.peak_to_valley_um, 1)} µm after lapping`}
              </span>
            </p>
            <Alert>
              {odd.length > 0 &&
                `Far from its neighbours: ${odd.map((o) => `${o.height_um} µm at ${o.x_mm}, ${o.y_mm}`).join('; ')}. Read ${odd.length === 1 ? 'it' : 'them'} again.`}
            </Alert>
            <FaceMap face={lapped ?? face} />
            <dl className="mt-3 grid max-w-3xl grid-cols-2 gap-x-6 gap-y-3 sm:grid-cols-4">
              <Told name="Bow" value={face.bow_um === null ? null : writeSigned(face.bow_um, 1)} unit="µm" note="middle over rim" />
              <Told
                name="Twist"
                value={face.twist_um === null ? null : writeSigned(face.twist_um, 1)}
                unit="µm"
                note="one diagonal over the other"
              />
              <Told
                name="Repeats"
                value={face.repeat_sd_um === null ? null : write(face.repeat_sd_um, 2)}
                unit="µm"
                note={face.repeat_sd_um === null ? 'read points twice to know' : 'standard deviation of one reading'}
              />
              <Told
                name="Mean gap"
                value={write(face.mean_gap_um, 1)}
                unit="µm"
                note={
                  k === null
                    ? 'under a flat base'
                    : `under a flat base: ${write(gapResistance(face.mean_gap_um, k, areaOf(face)), 4)} K/W as a film`
                }
              />
              {removed && (
                <Told
                  name="Removed"
                  value={write(removed.mean_um, 1)}
                  unit="µm"
                  note={`${write(removed.least_um, 1)} to ${write(removed.most_um, 1)} µm${thick === null ? '' : `, ${write(removed.mean_um / (10 * thick), 1)} % of the thickness`}`}
                />
              )}
            </dl>
            {mount && (
              <SaveInto
                mount={mount}
                step="measure"
                records={{ heights: text.trim(), ...(after.readings.length > 0 ? { heights_after: later.trim() } : {}) }}
                missing={text === EXAMPLE ? 'These heights are an example; enter your own.' : null}
              />
            )}
            {after.readings.length > 0 && !removed && <p className="mt-2 text-ember">No point was read both before and after.</p>}
          </div>
        ) : (
          <p className="text-soft">Four points or more tell how flat a face is, spread over it: not nearly on one line.</p>
        )}
      </div>
      <GapPanel mount={mount} />
    </div>
  );
}

const heights = (problems: string[]) => ({
  error: problems.length > 0 ? problems.join(' ') : undefined,
  className: 'figure',
  spellCheck: false,
});

function areaOf({ points }: Flatness): number {
  const span = (values: number[]) => Math.max(...values) - Math.min(...values);
  return Math.max(1, span(points.map((p) => p.x_mm)) * span(points.map((p) => p.y_mm)));
}

/** The face as contours of equal height, with every measured point and a scale. */
function FaceMap({ face }: { face: Flatness }) {
  const map = useMemo(() => heightMap(face.points, 61), [face]);
  if (!map) return null;
  const low = Math.min(...map.values);
  const high = Math.max(...map.values);
  const levels = Array.from({ length: LEVELS }, (_, i) => low + ((high - low) * i) / LEVELS);
  const bands = contours().size([map.columns, map.rows]).thresholds(levels)(map.values);
  const width = map.x[1] - map.x[0];
  const height = map.y[1] - map.y[0];
  const room = 0.14 * Math.max(width, height);
  const place = ([cx, cy]: number[]) =>
    `${map.x[0] + ((cx - 0.5) / (map.columns - 1)) * width} ${map.y[1] - ((cy - 0.5) / (map.rows - 1)) * height + map.y[0]}`;
  const path = (polygons: number[][][][]) =>
    polygons.map((rings) => rings.map((ring) => `M${ring.map(place).join('L')}Z`).join('')).join('');
  // teal low, ember high, through bone: the ramp of the kelvin rail
  const shade = (i: number) =>
    i < LEVELS / 2
      ? `color-mix(in oklab, var(--cool), var(--bone) ${(200 * i) / (LEVELS - 1)}%)`
      : `color-mix(in oklab, var(--bone), var(--hot) ${(200 * i) / (LEVELS - 1) - 100}%)`;
  return (
    <ChartFrame
      title="Map of the face"
      note="Heights over the best plane. Between the points the map is drawn, not measured."
      table={{
        columns: ['x / mm', 'y / mm', 'height / µm', 'readings', 'over the plane / µm'],
        rows: face.points.map((p) => [p.x_mm, p.y_mm, p.height_um, p.readings, p.deviation_um]),
      }}
    >
      <svg
        className="recharts-surface mt-2 h-[330px] max-w-full"
        width={420}
        height={330}
        viewBox={`${map.x[0] - room} ${map.y[0] - room} ${width + 3.2 * room} ${height + 2 * room}`}
        role="img"
        aria-label={`Contours from ${write(low, 1)} to ${write(high, 1)} µm over the best plane`}
      >
        {bands.map((b, i) => (
          <path key={b.value} d={path(b.coordinates)} fill={shade(i)} stroke="var(--paper)" strokeWidth={0.004 * width} />
        ))}
        {face.points.map((p) => (
          <g key={`${p.x_mm} ${p.y_mm}`}>
            <circle cx={p.x_mm} cy={map.y[1] - p.y_mm + map.y[0]} r={0.012 * width} fill="var(--ink)" />
            <text
              x={p.x_mm + 0.02 * width}
              y={map.y[1] - p.y_mm + map.y[0] - 0.015 * width}
              fontSize={0.32 * room}
              fill="var(--ink)"
              stroke="var(--paper)"
              strokeWidth={0.05 * room}
              paintOrder="stroke"
            >
              {writeSigned(p.deviation_um, 1)}
            </text>
          </g>
        ))}
        {levels.map((value, i) => (
          <g key={value}>
            <rect
              x={map.x[1] + 0.9 * room}
              y={map.y[1] - ((i + 1) * height) / LEVELS}
              width={0.35 * room}
              height={height / LEVELS}
              fill={shade(i)}
            />
            {i % 2 === 0 && (
              <text x={map.x[1] + 1.35 * room} y={map.y[1] - (i * height) / LEVELS} fontSize={0.3 * room} fill="var(--ink)">
                {writeSigned(value, 1)} µm
              </text>
            )}
          </g>
        ))}
        <text x={(map.x[0] + map.x[1]) / 2} y={map.y[1] + 0.75 * room} textAnchor="middle" fontSize={0.28 * room} fill="var(--soft)">
          {write(width, 0)} mm
        </text>
      </svg>
    </ChartFrame>
  );
}
