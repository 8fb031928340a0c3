import { OUTCOMES } from '#core/compare/outcomes';
import { keepUnits, write } from '#core/text/words';
import type { BeforeAfter, OutcomeChange } from '#features/results/model/beforeAfter';
import { changeWords } from '#features/results/model/changeWords';
import { Table } from '#ui/Table.tsx';
import { DevicesTable } from './DevicesTable.tsx';

/** Every outcome of one device before and after, with its change and interval, and what stands in the way of reading one alone. */
export const BeforeAfterTable = ({ states, csv }: { states: BeforeAfter[]; csv?: string }) => (
  <>
    {states.map((s) => (
      <div key={`${s.after} ${s.load}`} className="mb-6">
        {s.load && (
          <h3 className="mb-1 font-semibold">
            {s.after} against {s.before}, {s.load}
          </h3>
        )}
        {s.notes.map((n) => (
          <p key={n.code} className="mb-2 max-w-4xl border-l-4 border-ember py-1 pl-3">
            {keepUnits(n.message)}
          </p>
        ))}

        <Table
          label={`${s.before} and ${s.after}`}
          least="min-w-[640px]"
          rows={s.changes}
          keyOf={(c) => c.outcome}
          columns={[
            { head: 'Outcome', names: true, cell: (c) => `${OUTCOMES[c.outcome].name} / ${OUTCOMES[c.outcome].unit}` },
            { head: s.before, figure: true, cell: (c) => stateWords(c, c.before) },
            { head: s.after, figure: true, cell: (c) => stateWords(c, c.after) },
            { head: 'Change, 95 %', figure: true, cell: (c) => <Change words={changeWords(c)} /> },
            {
              head: 'Verdict',
              cell: (c) => [c.pair?.sentence, c.words].filter(Boolean).join(' ') || 'not compared: one of them has no value',
            },
          ]}
        />
      </div>
    ))}
    {states.map(
      (s) =>
        s.devices && (
          <section key={s.after} aria-label={`Devices, ${s.after} against ${s.before}`} className="mt-6">
            <h3 className="mb-2 text-name font-semibold">
              Device by device{states.filter((o) => o.devices).length > 1 && `, ${s.after} against ${s.before}`}
            </h3>
            <DevicesTable tables={s.devices} before={s.before} after={s.after} csv={csv} />
          </section>
        ),
    )}
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
