import { OUTCOMES } from '#core/compare/outcomes';
import { keepUnits, plural, write } from '#core/text/words';
import type { Crossed } from '#features/results/model/coolers/crossed';
import { Scroll } from '#ui/Table.tsx';
import { CheckedLink } from '#ui/Words.tsx';

/** What each of two crossed factors accounts for: the means of all combinations, and the effects in words. */
export function CrossedPanel({ crossed, lead }: { crossed: Crossed; lead: boolean }) {
  const { names, a_levels, b_levels, cells, effects, outcome, missing } = crossed;
  const { unit, digits } = OUTCOMES[outcome];
  const cell = (a: string, b: string) => cells.find((c) => c.a === a && c.b === b);
  const [main, ...rest] = effects.map((e) => e.sentence);
  const Heading = lead ? 'h1' : 'h2';
  return (
    <section className={lead ? 'mt-4' : 'section-rule mt-10'} aria-labelledby="crossed">
      <Heading id="crossed" className="text-verdict leading-[1.15] font-semibold">
        {main ? keepUnits(main) : `What ${names[0]} and ${names[1]} account for`}
      </Heading>
      {rest.map((sentence) => (
        <p key={sentence} className="mt-2 text-name">
          {keepUnits(sentence)}
        </p>
      ))}
      {!missing && <CheckedLink subject="coolers" />}
      {missing && <p className="mt-2 text-name">{missing}</p>}

      <Scroll label={`Every ${names[0]} with every ${names[1]}`} className="mt-5">
        <table className="figure max-w-3xl text-name">
          <caption className="pb-1 text-left text-note text-soft">
            {OUTCOMES[outcome].name} / {unit}, mean of the mounts of each combination
          </caption>
          <thead>
            <tr>
              <th>
                <span className="sr-only">First factor</span>
              </th>
              {b_levels.map((b) => (
                <th key={b} className="px-6 py-1">
                  {b}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {a_levels.map((a) => (
              <tr key={a} className="border-t border-rule">
                <th scope="row" className="py-2 pr-6 text-left font-semibold">
                  {a}
                </th>
                {b_levels.map((b) => {
                  const c = cell(a, b);
                  return (
                    <td key={b} className="px-6">
                      {c?.mean == null ? '–' : <strong>{write(c.mean, digits)}</strong>}{' '}
                      <span className="text-note text-soft">{c ? plural(c.mounts, 'mount') : 'not planned'}</span>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}
