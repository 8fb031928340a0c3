import { OUTCOMES } from '#core/compare/outcomes';
import { keepUnits } from '#core/text/keepUnits';
import { write } from '#core/text/number';
import type { BeforeAfter, OutcomeChange } from '#features/results/model/beforeAfter';
import { changeWords } from '#features/results/model/changeWords';
import { Scroll } from '#ui/Scroll.tsx';

/** Every outcome of one device before and after, with its change and interval, and what stands in the way of reading one alone. */
export const BeforeAfterTable = ({ states }: { states: BeforeAfter[] }) => (
  <>
    {states.map((s) => (
      <div key={s.after}>
        {s.notes.map((n) => (
          <p key={n.code} className="mb-2 max-w-4xl border-l-4 border-ember py-1 pl-3">
            {keepUnits(n.message)}
          </p>
        ))}

        <Scroll label={`${s.before} and ${s.after}`}>
          <table className="w-full min-w-[640px]">
            <thead>
              <tr className="border-b border-ink">
                <th className="py-1">Outcome</th>
                <th className="py-1 pl-4 text-right">{s.before}</th>
                <th className="py-1 pl-4 text-right">{s.after}</th>
                <th className="py-1 pl-4 text-right">Change, 95 %</th>
                <th className="py-1 pl-4">Verdict</th>
              </tr>
            </thead>
            <tbody>
              {s.changes.map((c) => (
                <tr key={c.outcome} className="border-b border-rule align-baseline">
                  <th scope="row" className="py-2 font-semibold">
                    {OUTCOMES[c.outcome].name} / {OUTCOMES[c.outcome].unit}
                  </th>
                  <td className="figure py-2 pl-4 text-right whitespace-nowrap">{stateWords(c, c.before)}</td>
                  <td className="figure py-2 pl-4 text-right whitespace-nowrap">{stateWords(c, c.after)}</td>
                  <td className="figure py-2 pl-4 text-right whitespace-nowrap">
                    <Change words={changeWords(c)} />
                  </td>
                  <td className="py-2 pl-4">
                    {[c.pair?.sentence, c.words].filter(Boolean).join(' ') || 'not compared: one of them has no value'}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      </div>
    ))}
  </>
);

function stateWords({ outcome }: OutcomeChange, state: OutcomeChange['before']): string {
  const { digits } = OUTCOMES[outcome];
  if (state.mean !== null) return write(state.mean, digits);
  return state.at_or_above === null ? '–' : `${outcome === 'time_to_event' ? '>' : '≥'} ${write(state.at_or_above, digits)}`;
}

/** A change over its interval, so that the sentence beside it has room on paper too. */
function Change({ words }: { words: string }) {
  const at = words.indexOf(' (');
  if (at < 0) return <span className="text-soft">{words}</span>;
  return (
    <>
      {words.slice(0, at)} <span className="block text-note text-soft">{words.slice(at + 1)}</span>
    </>
  );
}
