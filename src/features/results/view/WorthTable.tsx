import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { Worth } from '#core/compare/worth';
import { write, writeSigned } from '#core/text/words';
import { Table } from '#ui/Table.tsx';

interface WorthTableProps {
  worth: Worth[];
  currency: string | null;
  reference: string | null;
  /** hands-on minutes by specimen; left out where not given */
  minutes?: Record<string, number | null>;
  /** what is compared; the rise where it is not said */
  outcome?: OutcomeKey;
  /** years that the costs are told for; one mount where none are */
  years?: number | null;
}

/** What each specimen costs a mount beside what it gains; the efficient ones are marked. */
export function WorthTable({ worth, currency: money, reference, minutes, outcome = 'rise', years = null }: WorthTableProps) {
  const currency = money ?? '';
  const { unit, digits } = OUTCOMES[outcome];
  return (
    <Table
      label="Price and effort"
      least="min-w-[560px]"
      rows={[...worth].sort((a, b) => a.cost - b.cost)}
      keyOf={(w) => w.specimen}
      columns={[
        { head: 'Specimen', className: (w) => (w.efficient ? 'font-semibold' : ''), cell: (w) => w.specimen },
        { head: `${years === null ? 'A mount' : `${years} years`} / ${currency}`, figure: true, cell: (w) => write(w.cost, 2) },
        minutes !== undefined && { head: 'Hands / min', figure: true, cell: ({ specimen }) => write(minutes[specimen] ?? 0, 0) },
        { head: `Gain / ${unit}`, figure: true, cell: (w) => (w.specimen === reference ? 'reference' : writeSigned(w.gain, digits)) },
        {
          head: `${unit} per ${currency} more`,
          figure: true,
          cell: ({ gain_per_money: gain }) => (gain === null ? '–' : write(gain, gain < 0.1 ? 3 : 2)),
        },
        { head: 'Efficient', cell: (w) => (w.efficient ? '● yes' : 'no: another is as good and as cheap') },
      ]}
    />
  );
}
