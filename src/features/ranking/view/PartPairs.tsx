import { plural, write, writeSigned } from '#core/text/words';
import { type PartCalculator, pairOf } from '#features/ranking/model/partCalculator';
import { Table } from '#ui/Table.tsx';

/** What a report's materials differ by over all set-ups, and would in another: mm²·K/W, to be multiplied by watts per mm². */
export function PartPairs({ part, reference }: { part: PartCalculator; reference: string | null }) {
  const base = reference !== null && part.materials.includes(reference) ? reference : part.materials[0];
  const pairs = part.materials.flatMap((m) => (m === base ? [] : (pairOf(part, m, base) ?? [])));
  const interval = ([low, high]: [number, number]) => `${write(low, 1)} to ${write(high, 1)}`;
  return (
    <>
      <Table
        label="Over all set-ups"
        className="mt-4"
        least="min-w-[480px]"
        rows={pairs}
        keyOf={(p) => p.a}
        columns={[
          { head: 'Material', names: true, className: 'font-normal', cell: (p) => p.a },
          { head: `Against ${base} / mm²·K/W`, figure: true, cell: (p) => writeSigned(p.difference, 1) },
          { head: '95 %', figure: true, cell: (p) => interval(p.ci95) },
          { head: 'In another set-up', figure: true, cell: (p) => (p.shown95 ? interval(p.shown95) : 'not known') },
        ]}
      />
      <p className="mt-2 text-soft">
        Over {plural(part.setups, 'set-up')} and {plural(part.mounts, 'mount')} of this lab’s studies. On a part: times its watts per mm² of
        contact. The last column is where 95 of 100 set-ups not measured yet would show it.
      </p>
    </>
  );
}
