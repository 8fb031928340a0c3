import { useState } from 'react';
import { plural, write } from '#core/text/words';
import { clampForce, METRIC_THREADS, pressureOn, springForce, TORQUE_UNITS } from '#core/thermal/tightening/force';
import { SCHEMES, type Scheme, type Screw, tighteningOrder, torqueRounds } from '#core/thermal/tightening/order';
import { readScrews } from '#core/thermal/tightening/readScrews';
import { torqueSentence } from '#features/mount/model/findings';
import type { ToolSetting } from '#features/tools/server/toolSetting';
import { Act, Alert, ChoiceBox, numberWithin, Quiet, TextBox } from '#ui/Form.tsx';
import { useNumbers } from '#ui/useNumbers.tsx';
import { Told } from '#ui/Words.tsx';
import { SaveInto } from './SaveInto.tsx';

const SCHEME_NAMES: Record<Scheme, string> = { cross: 'Cross', star: 'Star', spiral: 'Spiral from the middle' };

/** Screws of a usual mount: two in line, four at the corners of a rectangle, else around an ellipse. */
function usualScrews(count: number, l: number, w: number): Screw[] {
  if (count === 2) return [-1, 1].map((s) => ({ x: (s * l) / 2, y: 0 }));
  if (count === 4)
    return [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([x, y]) => ({ x: (x * l) / 2, y: (y * w) / 2 }));
  return Array.from({ length: count }, (_, i) => {
    const a = (2 * Math.PI * i) / count - Math.PI / 2;
    return { x: (Math.cos(a) * l) / 2, y: (Math.sin(a) * w) / 2 };
  });
}

/** Order and torque of the screws, ticked off one by one, with the force and pressure they give. */
export function TighteningTool({ setting }: { setting: ToolSetting }) {
  const { mount } = setting;
  const [places, setPlaces] = useState(mount?.screw_positions ?? '');
  const [rate, setRate] = useState('');
  const [pressed, setPressed] = useState('');
  const form = useNumbers({
    count: { label: 'Screws', start: 4, min: 2, max: 12, hint: mount?.screws ?? undefined },
    along: { label: 'Apart, along / mm', start: 80, min: 1, max: 1000 },
    across: { label: 'Apart, across / mm', start: 60, min: 1, max: 1000 },
    torque: { label: 'Torque', start: mount?.torque_nm ?? 0.6, min: 0.001, max: 500 },
    rounds: { label: 'Rounds', start: 3, min: 1, max: 6 },
    friction: { label: 'Friction', start: 0.14, min: 0.04, max: 0.4, hint: 'dry steel 0.12 to 0.2; seldom known better' },
    length: { label: 'Part, length / mm', start: mount?.length_mm ?? 37, min: 0.5, max: 1000 },
    width: { label: 'Part, width / mm', start: mount?.width_mm ?? 37, min: 0.5, max: 1000 },
  });
  const [scheme, setScheme] = useState<Scheme>('cross');
  const [unit, setUnit] = useState('N·m');
  const [thread, setThread] = useState('M3');
  const [done, setDone] = useState(0);
  const given = places.trim() === '' ? null : readScrews(places);
  const sprung = rate.trim() !== '' || pressed.trim() !== '';
  const [spring, travel] = [numberWithin(rate, 0.01, 10_000), numberWithin(pressed, 0, 100)];
  const ready = (given && 'problem' in given) || (sprung && (spring === null || travel === null)) ? null : form.all;
  const size = TORQUE_UNITS.find((u) => u.unit === unit)?.nm ?? 1;
  const rounds = Math.round(ready?.rounds ?? 0);
  const torque_nm = (ready?.torque ?? 0) * size;
  const screws = !ready ? [] : given && 'screws' in given ? given.screws : usualScrews(Math.round(ready.count), ready.along, ready.across);
  const order = tighteningOrder(screws, scheme);
  const steps = ready
    ? torqueRounds(ready.torque, rounds).flatMap((torque, i) => order.map((screw) => ({ screw, round: i + 1, torque })))
    : [];
  const turned = ready
    ? clampForce(torque_nm, { ...METRIC_THREADS[thread], friction_thread: ready.friction, friction_head: ready.friction })
    : 0;
  const force = sprung && spring !== null && travel !== null ? springForce(spring, travel) : turned;
  const above =
    mount?.torque_max_nm != null && torque_nm > mount.torque_max_nm * (1 + 1e-9)
      ? torqueSentence(Number(torque_nm.toPrecision(3)), mount.torque_max_nm)
      : undefined;
  const forces = screws.map(() => force);
  const pressure = ready && pressureOn({ length_mm: ready.length, width_mm: ready.width }, screws, forces);
  const next = steps[done];
  const restart = { onChange: () => setDone(0) };
  const torqueBox = {
    ...restart,
    label: `Torque / ${unit}`,
    hint: mount?.torque_nm ? `the cooler asks for ${mount.torque_nm} N·m` : undefined,
  };
  const put = (text: string) => {
    setPlaces(text);
    setDone(0);
  };
  const arrange = (next: Scheme) => {
    setScheme(next);
    setDone(0);
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[320px_minmax(0,1fr)]">
      <div className="grid grid-cols-2 content-start gap-x-4 gap-y-3">
        <div className="col-span-2">
          <TextBox
            label="Screw positions / mm"
            hint="x, y from the middle of the part; a pair each, parted by ;"
            error={given && 'problem' in given ? given.problem : undefined}
            className="figure"
            placeholder="as below"
            value={places}
            maxLength={300}
            onChange={put}
          />
        </div>
        {!given && form.box('count', restart)}
        <ChoiceBox label="Order" value={scheme} onChange={arrange} choices={SCHEMES.map((s) => [s, SCHEME_NAMES[s]] as const)} />
        {given ? (
          <span />
        ) : (
          <>
            {form.box('along')}
            {form.box('across')}
          </>
        )}
        {form.box('torque', torqueBox)}
        <ChoiceBox label="Unit" value={unit} onChange={setUnit} choices={TORQUE_UNITS.map((u) => u.unit)} />
        {form.box('rounds', restart)}
        <ChoiceBox label="Thread" value={thread} onChange={setThread} choices={Object.keys(METRIC_THREADS)} />
        {form.box('friction')}
        <span />
        <TextBox
          {...optional}
          label="Spring / N/mm"
          value={rate}
          onChange={setRate}
          error={sprung && spring === null ? 'A number from 0.01 to 10000.' : undefined}
          hint="of each screw, if sprung"
        />
        <TextBox
          {...optional}
          label="Pressed by / mm"
          value={pressed}
          onChange={setPressed}
          error={sprung && travel === null ? 'A number from 0 to 100.' : undefined}
        />
        {form.box('length')}
        {form.box('width')}
      </div>
      {ready && pressure ? (
        <div>
          {next ? (
            <p className="text-verdict font-semibold" role="status">
              Screw {order.indexOf(next.screw) + 1} to {write(next.torque, 2)} {unit}, round {next.round} of {rounds}.
            </p>
          ) : (
            <p className="text-verdict font-semibold" role="status">
              All screws are tight.
            </p>
          )}
          <div className="mt-2 flex flex-wrap gap-3">
            <Act className="min-h-14 px-8 text-name" disabled={!next} onClick={() => setDone(done + 1)}>
              Tight: the next
            </Act>
            <Quiet disabled={done === 0} onClick={() => setDone(done - 1)}>
              One back
            </Quiet>
          </div>
          <ScrewDrawing
            screws={screws}
            order={order}
            current={next?.screw ?? null}
            tight={
              new Set(
                steps
                  .slice(0, done)
                  .filter((s) => !next || s.round === next.round)
                  .map((s) => s.screw),
              )
            }
            length={ready.length}
            width={ready.width}
          />
          <dl className="mt-2 grid max-w-2xl grid-cols-3 gap-4">
            <Told name="Force of one screw" value={write(force, 0)} unit="N" />
            <Told name="Mean pressure" value={write(pressure.mean_kpa, 0)} unit="kPa" testId="pressure" />
            <Told name="Least corner over greatest" value={write(100 * pressure.evenness, 0)} unit="%" />
          </dl>
          <p className="mt-2 max-w-2xl text-note text-soft">
            Force by VDI 2230 from torque, thread and friction: good to about a quarter. A sprung screw gives its spring's force and no more
            once it sits on its shoulder.
          </p>
          <Alert className="mt-3">{above}</Alert>
          {mount && (
            <SaveInto
              mount={mount}
              step="tighten"
              records={{
                torque_nm: Number(torque_nm.toPrecision(4)),
                screws: `${SCHEME_NAMES[scheme].toLowerCase()}, ${screws.length} screws in ${plural(rounds, 'round')}, ${write(pressure.mean_kpa, 0)} kPa, evenness ${write(100 * pressure.evenness, 0)} %`,
              }}
            />
          )}
        </div>
      ) : (
        <p className="text-soft">A figure is missing or out of its range; the fields say which.</p>
      )}
    </div>
  );
}

/** A number that may be left out. */
const optional = { className: 'figure', inputMode: 'decimal', placeholder: 'none' } as const;

interface ScrewDrawingProps {
  screws: Screw[];
  order: number[];
  current: number | null;
  /** tight in this round */
  tight: Set<number>;
  length: number;
  width: number;
}

function ScrewDrawing({ screws, order, current, tight, length, width }: ScrewDrawingProps) {
  const reach = Math.max(length / 2, width / 2, ...screws.map((s) => Math.max(Math.abs(s.x), Math.abs(s.y))));
  const box = 1.35 * reach;
  const r = 0.14 * reach;
  return (
    <svg
      className="mt-3 h-[300px] max-w-full"
      viewBox={`${-box} ${-box} ${2 * box} ${2 * box}`}
      role="img"
      aria-label={`Screws in their order: ${order.map((i) => `${Math.round(screws[i].x)}, ${Math.round(screws[i].y)} mm`).join('; ')}`}
    >
      <rect
        x={-length / 2}
        y={-width / 2}
        width={length}
        height={width}
        fill="var(--leaf)"
        stroke="var(--soft)"
        strokeWidth={0.012 * reach}
      />
      <path
        d={`M${order.map((i) => `${screws[i].x} ${screws[i].y}`).join('L')}`}
        fill="none"
        stroke="var(--soft)"
        strokeWidth={0.01 * reach}
        strokeDasharray={`${0.04 * reach} ${0.03 * reach}`}
      />
      {order.map((i, place) => {
        const on = i === current;
        const isTight = tight.has(i);
        return (
          <g key={`${screws[i].x} ${screws[i].y}`}>
            <circle
              cx={screws[i].x}
              cy={screws[i].y}
              r={r}
              fill={on ? 'var(--ember)' : isTight ? 'var(--ink)' : 'var(--paper)'}
              stroke={on ? 'var(--ember)' : 'var(--ink)'}
              strokeWidth={0.018 * reach}
            />
            <text
              x={screws[i].x}
              y={screws[i].y + 0.36 * r}
              textAnchor="middle"
              fontSize={1.05 * r}
              fontWeight={600}
              fill={on ? 'var(--on-ember)' : isTight ? 'var(--paper)' : 'var(--ink)'}
            >
              {place + 1}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
