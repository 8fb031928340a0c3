import { write } from '#core/text/words';
import { comparedNoun } from '#features/study/model/factors';
import type { ResolvedSpecimen } from '#features/study/model/resolve';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Scroll } from '#ui/Table.tsx';
import { SpecimenField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** What is expected of each of the compared, and what else is particular to it. */
export function ExpectedTable({ desk }: { desk: PlanDesk }) {
  const { specimens, said } = desk.resolved;
  const square = said.design === 'two_by_two';
  const states = said.design === 'before_after';
  const noun = comparedNoun(said);
  const head = 'py-1.5 pr-3 align-bottom';
  if (specimens.length === 0) return <p className="text-soft">Add the first {noun} above.</p>;
  return (
    <Scroll label="What is expected of each">
      <table className="w-full min-w-[920px]">
        <thead>
          <tr className="border-b border-ink">
            <th className={`${head} first-letter:uppercase`}>{noun}</th>
            {square && <th className={head}>First factor</th>}
            {square && <th className={head}>Second factor</th>}
            <th className={head}>Unit</th>
            <th className={head}>Other differences</th>
            <th className={`${head} w-24`}>Expected ΔT / K</th>
            <th className={`${head} w-24`}>Mount scatter / K</th>
            <th className={`${head} w-24`}>Expected K/W</th>
            <th className={`${head} w-20`}>Wait / h</th>
            {states && <th className={head}>Cannot be mounted again</th>}
            <th className={head}>Late in day</th>
          </tr>
        </thead>
        <tbody>
          {specimens.map((s) => (
            <ExpectedRow key={s.id} s={s} desk={desk} square={square} states={states} />
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}

function measured(desk: PlanDesk, specimen: string): string {
  const known = desk.soFar.measured.find((m) => m.specimen === specimen);
  return known ? write(known.k_per_w, 3) : '';
}

interface ExpectedRowProps {
  s: ResolvedSpecimen;
  desk: PlanDesk;
  square: boolean;
  states: boolean;
}

/** One of them. */
const ExpectedRow = ({ s, desk, square, states }: ExpectedRowProps) => (
  <tr className="border-b border-rule">
    <td className="py-1 pr-3">
      <span className="flex items-center gap-2">
        <SpecimenMark position={s.position} size={5} />
        {s.name}
      </span>
    </td>
    {square && (
      <td className="w-28 py-1 pr-2">
        <SpecimenField desk={desk} specimen={s.id} field="level_a" />
      </td>
    )}
    {square && (
      <td className="w-28 py-1 pr-2">
        <SpecimenField desk={desk} specimen={s.id} field="level_b" />
      </td>
    )}
    <td className="w-28 py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="unit" otherwise="the rig’s" />
    </td>
    <td className="w-36 py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="differs" otherwise="nothing" />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="rise_k" otherwise="same" />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="mount_sd" otherwise={write(s.mount_sd, 2)} />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="k_per_w" otherwise={measured(desk, s.name)} />
    </td>
    <td className="py-1 pr-2">
      <SpecimenField desk={desk} specimen={s.id} field="wait_h" otherwise={write(s.wait_h, s.wait_h % 1 === 0 ? 0 : 1)} />
    </td>
    {states && (
      <td className="py-1 pr-2">
        <SpecimenField
          desk={desk}
          specimen={s.id}
          field="fixed"
          otherwise={desk.plan.reference_id === s.id ? 'yes, the state before' : 'no'}
        />
      </td>
    )}
    <td className="py-1 pr-2">
      <SpecimenField
        desk={desk}
        specimen={s.id}
        field="last"
        otherwise={s.plan.last == null ? (s.last ? 'yes, by its sheet' : 'no') : 'by its sheet'}
      />
    </td>
  </tr>
);
