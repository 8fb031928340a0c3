import { write } from '#core/compare/number';
import { studyCost } from '#domain/plan/cost';
import { PlanField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan.ts';

/** What the study costs in materials, tools and work, and what the same money buys otherwise. */
export function CostPanel({ desk }: { desk: PlanDesk }) {
  const { resolved } = desk;
  const cost = studyCost(resolved, resolved.said.mounts);
  const currency = cost.currency ?? '';
  const { alternative, alternative_price } = resolved.said;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div className="grid grid-cols-2 gap-3">
        <PlanField desk={desk} field="consumables" hint={null} />
        <PlanField desk={desk} field="tools" hint={null} />
        <PlanField desk={desk} field="hour_rate" hint={null} />
        <PlanField desk={desk} field="currency" otherwise={currency} hint={null} />
        <div className="col-span-2">
          <PlanField desk={desk} field="alternative" />
        </div>
        <PlanField desk={desk} field="alternative_price" hint={null} />
      </div>
      <div>
        <table className="w-full max-w-md">
          <tbody>
            {cost.lines.map((l) => (
              <tr key={l.what} className="border-b border-rule">
                <td className="py-1">{l.what}</td>
                <td className="figure py-1 text-right">{write(l.amount, 2)}</td>
              </tr>
            ))}
            <tr className="border-t border-ink font-semibold">
              <td className="py-1.5">The study at {resolved.said.mounts} mounts each</td>
              <td className="figure py-1.5 text-right">
                {write(cost.total, 2)} {currency}
              </td>
            </tr>
            {alternative && (
              <tr className="border-b border-rule">
                <td className="py-1">For the same money: {alternative}</td>
                <td className="figure py-1 text-right">{alternative_price == null ? '' : `${write(alternative_price, 2)} ${currency}`}</td>
              </tr>
            )}
          </tbody>
        </table>
        <p className="mt-2 text-soft">
          {write(cost.hands_h, 1)} hours at the open machine.
          {cost.unpriced.length > 0 && ` Without a price on the shelf: ${cost.unpriced.join(', ')}.`}
          {cost.other_currency.length > 0 && ` In another currency and left out: ${cost.other_currency.join(', ')}.`}
        </p>
      </div>
    </div>
  );
}
