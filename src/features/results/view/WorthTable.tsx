import type { Worth } from '#core/compare/worth';
import { write, writeSigned } from '#core/text/words';
import { Table } from '#ui/Table.tsx';

interface WorthTableProps {
  worth: Worth[];
  currency: string | null;
  reference: string | null;
  /** hands-on minutes a mount; left out where not given */
  minutes?: number | null;
}

/** What each specimen costs a mount beside what it gains; the efficient ones are marked. */
export function WorthTable({ worth, currency: money, reference, minutes }: WorthTableProps) {
  const currency = money ?? '';
  return (
    <Table
      label="Price and effort"
      least="min-w-[560px]"
      rows={[...worth].sort((a, b) => a.cost - b.cost)}
      keyOf={(w) => w.specimen}
      columns={[
        { head: 'Specimen', className: (w) => (w.efficient ? 'font-semibold' : ''), cell: (w) => w.specimen },
        { head: `A mount / ${currency}`, figure: true, cell: (w) => write(w.cost, 2) },
        minutes != null && { head: 'Hands / min', figure: true, cell: () => write(minutes, 0) },
        { head: 'Gain / K', figure: true, cell: (w) => (w.specimen === reference ? 'reference' : writeSigned(w.gain, 1)) },
        {
          head: `K per ${currency} more`,
          figure: true,
          cell: ({ gain_per_money: gain }) => (gain === null ? '–' : write(gain, gain < 0.1 ? 3 : 2)),
        },
        { head: 'Efficient', cell: (w) => (w.efficient ? '● yes' : 'no: another is as good and as cheap') },
      ]}
    />
  );
}
