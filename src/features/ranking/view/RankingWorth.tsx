import { useState } from 'react';
import { type Worth, worthOf } from '#core/compare/worth';
import { list, write, writeSigned } from '#core/text/words';
import type { RailMaterial } from '#features/ranking/model/placeTypes';
import type { RankingScale } from '#features/ranking/model/rankingWords';
import { Quiet } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';

interface RankingWorthProps {
  materials: RailMaterial[];
  reference: string;
  scale: RankingScale;
  digits: number;
}

/** Rows that are drawn before all are asked for: the efficient ones, then the cheapest. */
const FIRST = 40;

const firstOf = (worth: Worth[]): Worth[] =>
  worth.length <= FIRST ? worth : [...worth.filter((w) => w.efficient), ...worth.filter((w) => !w.efficient)].slice(0, FIRST);

/** Price of a mount beside the gain over the reference, in each currency by itself; the efficient ones are marked. */
export function RankingWorth({ materials, reference, scale, digits }: RankingWorthProps) {
  const currencies = [...new Set(materials.flatMap((m) => (m.cost === null ? [] : [m.currency ?? ''])))];
  const unpriced = materials.filter((m) => m.cost === null);
  const [isWhole, setWhole] = useState(false);
  return (
    <div className="grid gap-6">
      {currencies.map((currency) => {
        const priced = materials.filter((m) => m.cost !== null && (m.currency ?? '') === currency);
        const worth = worthOf(
          priced.map((m) => ({ specimen: m.material, cost: m.cost as number, value: scale.factor * m.difference })),
          reference,
        ).sort((a, b) => a.cost - b.cost);
        const of = (key: string) => priced.find((m) => m.material === key) as RailMaterial;
        const isBased = priced.some((m) => m.material === reference);
        return (
          <Table
            key={currency}
            label={`Price and gain${currency && `, ${currency}`}`}
            least="min-w-[640px]"
            rows={isWhole ? worth : firstOf(worth)}
            keyOf={(w) => w.specimen}
            columns={[
              {
                head: 'Material',
                names: true,
                className: (w) => (w.efficient ? 'font-semibold' : 'font-normal'),
                cell: (w) => of(w.specimen).name,
              },
              { head: `A mount / ${currency || 'money'}`, figure: true, cell: (w) => write(w.cost, 2) },
              isBased && {
                head: `Gain / ${scale.unit}`,
                figure: true,
                cell: (w) => (w.specimen === reference ? 'reference' : writeSigned(w.gain, digits)),
              },
              isBased && {
                head: `Gain per ${currency || 'unit'} more`,
                figure: true,
                cell: ({ gain_per_money: g }) => (g === null ? '–' : write(g, g < 0.1 ? 3 : 2)),
              },
              { head: 'Price date', cell: (w) => of(w.specimen).price_on ?? 'not specified' },
              { head: 'Efficient', cell: (w) => (w.efficient ? '● yes' : 'no: another is as good and as cheap') },
            ]}
          />
        );
      })}
      {!isWhole && materials.length - unpriced.length > FIRST && (
        <div>
          <Quiet onClick={() => setWhole(true)}>Show all {materials.length - unpriced.length} priced materials</Quiet>
        </div>
      )}
      {unpriced.length > 0 && (
        <p className="text-soft">
          Without a price on their sheets: {list(unpriced.slice(0, 12).map((m) => m.name))}
          {unpriced.length > 12 && ` and ${unpriced.length - 12} more`}.
        </p>
      )}
    </div>
  );
}
