import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { write } from '#core/text/words';
import { gapTable, type Neighbour } from '#core/thermal/flatness/gapTable';
import type { ToolSetting } from '#features/tools/server/toolSetting';
import { NumberBox, numberWithin, Quiet } from '#ui/Form.tsx';
import { Section } from '#ui/Words.tsx';
import { SaveInto } from './SaveInto.tsx';

type Typed = { name: string } & Record<'gap' | 'thickness' | 'area' | 'pressure' | 'most', string>;

const FRESH: Typed = { name: 'memory', gap: '0.75', thickness: '1', area: '400', pressure: '200', most: '60' };

function read(t: Typed): Neighbour | null {
  const [gap, thickness, area, pressure, most] = [
    numberWithin(t.gap, 0, 50),
    numberWithin(t.thickness, 0.01, 50),
    numberWithin(t.area, 0.1, 100_000),
    numberWithin(t.pressure, 0, 100_000),
    numberWithin(t.most, 26, 99),
  ];
  if (gap === null || thickness === null || area === null || pressure === null || most === null) return null;
  return {
    name: t.name.trim() || 'a neighbour',
    gap_mm: gap,
    thickness_mm: thickness,
    area_mm2: area,
    pressure_at_quarter_kpa: pressure,
    most_compression: most / 100,
  };
}

/** Neighbours with pads under the same cooler: how much of the force they take, and whether they hold it off the die. */
export function GapPanel({ mount }: { mount: ToolSetting['mount'] }) {
  const [clamp, setClamp] = useState('200');
  const [list, setList] = useState<Typed[]>([FRESH]);
  const force = numberWithin(clamp, 1, 100_000);
  const neighbours = list.map(read);
  const complete = force !== null && neighbours.every((n) => n !== null);
  const table = complete && neighbours.length > 0 ? gapTable(neighbours as Neighbour[], force) : null;
  const put = (i: number, part: Partial<Typed>) => setList(list.map((t, j) => (j === i ? { ...t, ...part } : t)));
  return (
    <Section id="gaps" title="Gaps of the neighbours" heading="text-title" className="mt-10">
      <p className="mb-3 text-soft">
        The gap is what stays between a neighbour and the base when the base sits on the die. A pad too thick holds it off.
      </p>
      <div className="mb-3 w-48">
        <NumberBox label="Force on the cooler / N" value={clamp} onChange={setClamp} min={1} max={100_000} />
      </div>
      <ul>
        {list.map((t, i) => {
          const state = table?.neighbours[i];
          return (
            <li
              // biome-ignore lint/suspicious/noArrayIndexKey: neighbours have no identity but their place
              key={i}
              className="grid items-start gap-x-3 gap-y-2 border-b border-rule py-2 sm:grid-cols-3 lg:grid-cols-[10rem_repeat(5,minmax(0,1fr))_11rem_auto]"
            >
              <label className="font-semibold">
                Neighbour
                <input
                  className="field w-full font-normal"
                  value={t.name}
                  maxLength={40}
                  onChange={(e) => put(i, { name: e.target.value })}
                />
              </label>
              <NumberBox label="Gap / mm" value={t.gap} onChange={(gap) => put(i, { gap })} min={0} max={50} />
              <NumberBox label="Pad / mm" value={t.thickness} onChange={(thickness) => put(i, { thickness })} min={0.01} max={50} />
              <NumberBox label="Area / mm²" value={t.area} onChange={(area) => put(i, { area })} min={0.1} max={100_000} />
              <NumberBox label="At 25 % / kPa" value={t.pressure} onChange={(pressure) => put(i, { pressure })} min={0} max={100_000} />
              <NumberBox label="Solid at / %" value={t.most} onChange={(most) => put(i, { most })} min={26} max={99} />
              <p className="pt-6" data-testid="neighbour">
                {state &&
                  (state.open_mm > 0
                    ? `${write(state.open_mm, 2)} mm of air`
                    : `pressed ${write(100 * state.compression, 0)} %, ${write(state.force_n, 0)} N, ${write(100 * state.share, 0)} %`)}
              </p>
              <Quiet
                className="mt-5"
                aria-label={`Take out ${t.name || 'this neighbour'}`}
                onClick={() => setList(list.filter((_, j) => j !== i))}
              >
                <X size={16} aria-hidden="true" />
              </Quiet>
            </li>
          );
        })}
      </ul>
      <Quiet className="mt-2 inline-flex items-center gap-2" onClick={() => setList([...list, { ...FRESH, name: '' }])}>
        <Plus size={16} aria-hidden="true" />
        Add a neighbour
      </Quiet>
      {table && (
        <div className="mt-3" role="status">
          <p className="text-name font-semibold">
            {table.die_gap_mm > 0.0005
              ? `The die is not touched: ${write(table.die_gap_mm, 2)} mm are left over it.`
              : `${write(table.die_force_n, 0)} N are left for the die, ${write((100 * table.die_force_n) / (force ?? 1), 0)} % of the force.`}
          </p>
          {table.findings.map((f) => (
            <p key={f.message} className="border-l-4 border-ember pl-3">
              {f.message}
            </p>
          ))}
          {mount && (
            <SaveInto
              mount={mount}
              step="measure"
              records={{
                gaps: list
                  .map((t) => `${t.name}: gap ${t.gap} mm, pad ${t.thickness} mm, ${t.area} mm², ${t.pressure} kPa at 25 %`)
                  .join('\n'),
                held_off: table.findings.find((f) => f.code === 'held_off')?.message ?? null,
              }}
            />
          )}
        </div>
      )}
    </Section>
  );
}
