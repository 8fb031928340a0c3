import { sentenceCase, write } from '#core/text/words';
import { studyCost } from '#features/study/model/cost';
import { comparedNoun } from '#features/study/model/factors';
import { SpecimenName } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { PlanField, SpecimenField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** What the study and each of its states cost in materials, tools and work, and what the same money buys otherwise. */
export function CostPanel({ desk }: { desk: PlanDesk }) {
  const { resolved } = desk;
  const cost = studyCost(resolved, resolved.said.mounts);
  const currency = cost.currency ?? '';
  const renewed = (id: number) => String(resolved.specimens.find((s) => s.id === id)?.material?.sheet.renew_months ?? 'not renewed');
  const { alternative, alternative_price } = resolved.said;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div className="grid grid-cols-2 content-start gap-3">
        <PlanField desk={desk} field="consumables" label="Consumables" hint="Per mount." />
        <PlanField desk={desk} field="tools" hint="For the whole study." />
        <PlanField desk={desk} field="hour_rate" label="Work" hint="Per hour." />
        <PlanField desk={desk} field="currency" otherwise={currency} hint={null} />
        <PlanField desk={desk} field="years" label="Cost over" />
        <div className="col-span-2">
          <PlanField desk={desk} field="alternative" />
        </div>
        <PlanField desk={desk} field="alternative_price" hint={null} />
      </div>
      <div>
        <Table
          label="Cost of each"
          least="min-w-[640px]"
          rows={cost.states}
          keyOf={(s) => s.id}
          columns={[
            { head: sentenceCase(comparedNoun(resolved.said)), cell: (s) => <SpecimenName name={s.specimen} position={s.position} /> },
            { head: 'Mounts', figure: true, cell: (s) => s.mounts },
            {
              head: 'Material per mount',
              figure: true,
              cell: ({ material, piece }) => (material === null ? 'no price' : piece > 0 ? `${write(piece, 2)} once` : write(material, 2)),
            },
            { head: 'One mount in total', figure: true, cell: (s) => write(s.a_mount, 2) },
            {
              head: 'Tools, once',
              className: 'w-32',
              cell: (s) => <SpecimenField desk={desk} specimen={s.id} field="tools" otherwise="none" />,
            },
            {
              head: 'Effort, once / min',
              className: 'w-32',
              cell: (s) => <SpecimenField desk={desk} specimen={s.id} field="effort_min" otherwise="none" />,
            },
            cost.states.some((s) => s.over_years !== null) && {
              head: 'Renewed every / months',
              className: 'w-32',
              cell: (s) => <SpecimenField desk={desk} specimen={s.id} field="renew_months" otherwise={renewed(s.id)} />,
            },
            cost.states.some((s) => s.over_years !== null) && {
              head: `${resolved.said.years} years, one in use`,
              figure: true,
              cell: (s) => `${write(s.over_years ?? 0, 2)}${s.renewals ? `, renewed ${s.renewals} ×` : ''}`,
            },
            { head: `Total / ${currency || '?'}`, figure: true, cell: (s) => write(s.total, 2) },
          ]}
        />
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
              <span className="text-base text-soft">Enter an alternative to compare its price with the study.</span>
            )}
          </p>
        </div>
        <p className="mt-2 text-soft">
          {write(cost.hands_h, 1)} hours hands on.
          {cost.other_currency.length > 0 && ` Left out because priced in another currency: ${cost.other_currency.join(', ')}.`}
        </p>
      </div>
    </div>
  );
}
