import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair } from '#core/compare/types';
import { write, writeSigned } from '#core/text/words';
import type { Rung } from '#features/results/model/resultsAnswer';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Scroll } from '#ui/Table.tsx';
import { verdictWords } from './verdictWords';

/** Every pair as a cell: row less column, bold where the two are told apart, with the verdict as a sign. */
export function PairMatrix({ rungs, pairs, outcome }: { rungs: Rung[]; pairs: AnalysedPair[]; outcome: OutcomeKey }) {
  const { digits, better, unit } = OUTCOMES[outcome];
  const sign = better === 'lower' ? 1 : -1;
  const ordered = [...rungs].sort((a, b) => sign * (a.mean - b.mean));
  const find = (row: string, column: string) => {
    const pair = pairs.find((p) => (p.a === row && p.b === column) || (p.b === row && p.a === column));
    return pair && { pair, difference: pair.a === row ? pair.difference : -pair.difference };
  };
  return (
    <Scroll label="Matrix of pairs">
      <p className="pb-2 text-note text-soft">
        Row minus column, {unit}. Bold: different. = equivalent within the margin, ? not distinguishable, ~ depends on the method.
      </p>
      <table className="figure border-collapse text-note" aria-label="Differences of all pairs">
        <thead>
          <tr>
            <th>
              <span className="sr-only">Specimen</span>
            </th>
            {ordered.map((c) => (
              <th key={c.name} scope="col" className="px-2 pb-1 text-center align-bottom font-sans">
                <span className="flex flex-col items-center gap-1">
                  <SpecimenMark position={c.position} size={5} />
                  <span className="max-w-20 text-note leading-tight">{c.name}</span>
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ordered.map((r) => (
            <tr key={r.name} className="border-t border-rule">
              <th scope="row" className="py-1.5 pr-3 font-sans whitespace-nowrap">
                {r.name}
              </th>
              {ordered.map((c) => {
                const cell = r === c ? undefined : find(r.name, c.name);
                if (!cell)
                  return (
                    <td key={c.name} className="bg-band px-2 text-center text-soft">
                      {r === c ? '' : '–'}
                    </td>
                  );
                const { pair } = cell;
                const told = pair.verdict !== 'tied' && pair.verdict !== 'unresolved';
                const mark = pair.verdict === 'tied' ? ' =' : pair.verdict === 'unresolved' ? ' ?' : '';
                const words = `${pair.a} and ${pair.b}: ${verdictWords(pair.verdict, outcome)}, ${pair.ci ? `${write(pair.ci[0], digits + 1)} to ${write(pair.ci[1], digits + 1)} ${unit}` : 'no interval'}${pair.firm && pair.verdict !== 'unresolved' ? ', firm' : ''}`;
                return (
                  <td
                    key={c.name}
                    title={words}
                    className={`px-2 py-1.5 text-center whitespace-nowrap ${told ? 'font-semibold' : 'text-soft'}`}
                  >
                    {writeSigned(cell.difference, digits)}
                    {mark}
                    {told && !pair.firm ? ' ~' : ''}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
