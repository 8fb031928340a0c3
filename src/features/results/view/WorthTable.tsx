import type { Worth } from '#core/compare/worth';
import { write, writeSigned } from '#core/text/number';
import { Scroll } from '#ui/Scroll.tsx';

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
  const cell = 'figure py-1.5 pl-4 text-right';
  return (
    <Scroll label="Price and effort">
      <table className="w-full min-w-[560px]">
        <thead>
          <tr className="border-b border-ink align-bottom">
            <th className="py-1">Specimen</th>
            <th className="py-1 pl-4 text-right">A mount / {currency}</th>
            {minutes != null && <th className="py-1 pl-4 text-right">Hands / min</th>}
            <th className="py-1 pl-4 text-right">Gain / K</th>
            <th className="py-1 pl-4 text-right">K per {currency} more</th>
            <th className="py-1 pl-4">Efficient</th>
          </tr>
        </thead>
        <tbody>
          {[...worth]
            .sort((a, b) => a.cost - b.cost)
            .map((w) => (
              <tr key={w.specimen} className="border-b border-rule">
                <td className={`py-1.5 ${w.efficient ? 'font-semibold' : ''}`}>{w.specimen}</td>
                <td className={cell}>{write(w.cost, 2)}</td>
                {minutes != null && <td className={cell}>{write(minutes, 0)}</td>}
                <td className={cell}>{w.specimen === reference ? 'reference' : writeSigned(w.gain, 1)}</td>
                <td className={cell}>{w.gain_per_money === null ? '–' : write(w.gain_per_money, w.gain_per_money < 0.1 ? 3 : 2)}</td>
                <td className="py-1.5 pl-4">{w.efficient ? '● yes' : 'no: another is as good and as cheap'}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </Scroll>
  );
}
