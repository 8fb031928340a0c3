import { HEADROOM_K, headroom } from '#core/design/headroom';
import { write } from '#core/text/words';
import { worstResistance } from '#features/study/model/resolve';
import { Quiet } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Figure } from '#ui/Words.tsx';
import { PlanField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** The highest load that keeps the worst specimen clear of the limit, and what each would read there. */
export function HeadroomPanel({ desk }: { desk: PlanDesk }) {
  const { resolved, soFar } = desk;
  const { said, specimens, limit_c, load_w } = resolved;
  const worst = worstResistance(resolved);
  const pilot = [...soFar.measured].sort((a, b) => b.k_per_w - a.k_per_w)[0];
  const known = specimens.flatMap((s) => {
    const k = s.plan.k_per_w ?? soFar.measured.find((m) => m.specimen === s.name)?.k_per_w;
    return k == null ? [] : [{ specimen: s.name, position: s.position, k_per_w: k }];
  });
  const result =
    worst !== null && limit_c !== null && said.warmest_c != null
      ? headroom({ worst_k_per_w: worst, specimens: known, warmest_c: said.warmest_c, limit_c, load_w })
      : null;
  const missing = [
    ...(limit_c === null ? ['a rig with a throttle limit'] : []),
    ...(said.warmest_c == null ? ['the warmest room'] : []),
    ...(worst === null ? ['the worst resistance'] : []),
  ];
  const span = limit_c !== null && said.warmest_c != null ? limit_c + 10 - said.warmest_c : 1;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div className="flex flex-col gap-3">
        <PlanField desk={desk} field="warmest_c" label="Warmest room allowed" hint={null} />
        <PlanField desk={desk} field="worst_k_per_w" otherwise={worst === null ? '' : write(worst, 3)} />
        {pilot && (
          <Quiet className="self-start" onClick={() => desk.set('worst_k_per_w', Number(pilot.k_per_w.toFixed(4)))}>
            Take the pilot's {write(pilot.k_per_w, 3)} K/W ({pilot.specimen})
          </Quiet>
        )}
        <PlanField desk={desk} field="load_w" otherwise={load_w === null ? '' : String(load_w)} />
      </div>
      {result ? (
        <div>
          <p className="flex flex-wrap items-end gap-x-3">
            <Figure value={write(Math.floor(result.highest_load_w), 0)} unit="W" size="large" />
            <span className="pb-1">
              highest safe load: the worst stays {HEADROOM_K} K below the limit of {write(limit_c ?? 0, 0)} °C at{' '}
              {write(said.warmest_c ?? 0, 0)} °C in the room
            </span>
          </p>
          {result.readings.length > 0 && (
            <table className="mt-3 w-full">
              <caption className="pb-1 text-left text-soft">
                At {write(load_w ?? result.highest_load_w, 0)} W in the warmest room; the line is the limit of {write(limit_c ?? 0, 0)} °C.
              </caption>
              <thead className="sr-only">
                <tr>
                  <th>Specimen</th>
                  <th>Bar</th>
                  <th>Reading / °C</th>
                  <th>Below the limit / K</th>
                </tr>
              </thead>
              <tbody>
                {result.readings.map((r) => (
                  <tr key={r.specimen} className="border-b border-rule">
                    <td className="w-44 py-1 pr-3">
                      <span className="flex items-center gap-2">
                        <SpecimenMark position={known.find((k) => k.specimen === r.specimen)?.position ?? 0} size={5} />
                        {r.specimen}
                      </span>
                    </td>
                    <td className="py-1">
                      <span className="relative block h-4">
                        <span
                          className={`absolute inset-y-0 left-0 ${r.below_limit_k < HEADROOM_K ? 'bg-ember' : 'bg-cool'}`}
                          style={{ width: `${Math.min(100, (100 * r.rise_k) / span)}%` }}
                        />
                        <span className="absolute -inset-y-1 w-0.5 bg-ink" style={{ left: `${(100 * (span - 10)) / span}%` }} />
                      </span>
                    </td>
                    <td className="figure w-24 py-1 pl-3 text-right">{write(r.sensor_c, 1)} °C</td>
                    <td
                      className={`figure w-40 py-1 pl-3 text-right text-note ${r.below_limit_k < HEADROOM_K ? 'font-semibold text-ember' : 'text-soft'}`}
                    >
                      {r.below_limit_k >= 0 ? `${write(r.below_limit_k, 1)} K below` : `${write(-r.below_limit_k, 1)} K above`}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      ) : (
        <p className="text-soft">It needs {missing.join(', ')}. A pilot run of the specimen expected to be worst gives its resistance.</p>
      )}
    </div>
  );
}
