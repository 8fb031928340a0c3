import { write } from '#core/text/number';
import { studyCost } from '#features/study/model/cost';
import { Scroll } from '#ui/Scroll.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { PlanField, SpecimenField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** What the study and each of its states cost in materials, tools and work, and what the same money buys otherwise. */
export function CostPanel({ desk }: { desk: PlanDesk }) {
  const { resolved } = desk;
  const cost = studyCost(resolved, resolved.said.mounts);
  const currency = cost.currency ?? '';
  const { alternative, alternative_price } = resolved.said;
  const money = 'figure py-1 pl-3 text-right';
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div className="grid grid-cols-2 content-start gap-3">
        <PlanField desk={desk} field="consumables" label="Consumables" hint="a mount" />
        <PlanField desk={desk} field="tools" hint="for all" />
        <PlanField desk={desk} field="hour_rate" label="Work" hint="an hour" />
        <PlanField desk={desk} field="currency" otherwise={currency} hint={null} />
        <div className="col-span-2">
          <PlanField desk={desk} field="alternative" />
        </div>
        <PlanField desk={desk} field="alternative_price" hint={null} />
      </div>
      <div>
        <Scroll label="Cost by specimen">
          <table className="w-full min-w-[640px]">
            <thead>
              <tr className="border-b border-ink align-bottom">
                <th className="py-1">Specimen</th>
                <th className="py-1 pl-3 text-right">Mounts</th>
                <th className="py-1 pl-3 text-right">Material a mount</th>
                <th className="py-1 pl-3 text-right">One mount in all</th>
                <th className="w-28 py-1 pl-3">Tools, once</th>
                <th className="w-28 py-1 pl-3">Effort, once / min</th>
                <th className="py-1 pl-3 text-right">All / {currency || '?'}</th>
              </tr>
            </thead>
            <tbody>
              {cost.states.map((s) => (
                <tr key={s.id} className="border-b border-rule">
                  <td className="py-1">
                    <span className="flex items-center gap-2">
                      <SpecimenMark position={s.position} size={5} />
                      {s.specimen}
                    </span>
                  </td>
                  <td className={money}>{s.mounts}</td>
                  <td className={money}>
                    {s.material === null ? (
                      <span className="text-soft">no price</span>
                    ) : s.piece > 0 ? (
                      `${write(s.piece, 2)} once`
                    ) : (
                      write(s.material, 2)
                    )}
                  </td>
                  <td className={money}>{write(s.a_mount, 2)}</td>
                  <td className="py-1 pl-3">
                    <SpecimenField desk={desk} specimen={s.id} field="tools" otherwise="none" />
                  </td>
                  <td className="py-1 pl-3">
                    <SpecimenField desk={desk} specimen={s.id} field="effort_min" otherwise="none" />
                  </td>
                  <td className={money}>{write(s.total, 2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
        <div className="mt-4 grid gap-x-8 gap-y-3 md:grid-cols-2">
          <p className="text-title leading-tight">
            <span className="font-semibold tabular-nums">
              {write(cost.total, 2)} {currency}
            </span>
            <span className="block text-base">
              the study at {resolved.said.mounts} mounts each:{' '}
              {cost.lines.map((l) => `${l.what.toLowerCase()} ${write(l.amount, 2)}`).join(', ') || 'nothing is priced yet'}
            </span>
          </p>
          <p className="text-title leading-tight">
            {alternative ? (
              <>
                <span className="font-semibold tabular-nums">
                  {alternative_price == null ? 'no price' : `${write(alternative_price, 2)} ${currency}`}
                </span>
                <span className="block text-base">instead: {alternative}</span>
              </>
            ) : (
              <span className="text-base text-soft">What the same money buys otherwise stands here once it is entered.</span>
            )}
          </p>
        </div>
        <p className="mt-2 text-soft">
          {write(cost.hands_h, 1)} hours at the open machine.
          {cost.other_currency.length > 0 && ` In another currency and left out: ${cost.other_currency.join(', ')}.`}
        </p>
      </div>
    </div>
  );
}
