import { write, writeSigned } from '#core/text/words';
import type { StudyBudget } from '#features/results/model/budget';
import { Table } from '#ui/Table.tsx';

/** From so many degrees of freedom on, a t factor is that of the normal distribution to every digit that is printed. */
const AS_NORMAL = 1000;

const freedomWords = (df: number | null): string =>
  df === null || df > AS_NORMAL ? ', that of the normal distribution' : ` at ${write(df, 0)} degrees of freedom`;

/** What each absolute rise may be off by, and each difference; the sources below. */
export function BudgetTable({ budget }: { budget: StudyBudget }) {
  const [first] = budget.absolute;
  const sources = first.budget.components.filter((c) => c.contribution !== 0);
  const differences = new Map(budget.difference.map((d) => [d.specimen, d]));
  return (
    <>
      <p className="max-w-3xl">
        {rigWords(budget)}
        {sources.length < 2 &&
          ' The sheets of rig and instruments state no accuracy, so the absolute values carry the scatter alone. Enter it there.'}
      </p>

      <Table
        label="Uncertainty budget"
        className="mt-2"
        least="min-w-[560px]"
        rows={budget.absolute.map((a) => ({ ...a, from: differences.get(a.specimen) }))}
        keyOf={(a) => a.specimen}
        columns={[
          { head: 'Specimen', cell: (a) => a.specimen },
          { head: 'ΔT / K', figure: true, cell: (a) => write(a.mean, 1) },
          { head: 'U, 95 % / K', figure: true, cell: (a) => `± ${write(a.budget.expanded, 1)}` },
          { head: 'From the reference / K', figure: true, cell: ({ from }) => (from ? writeSigned(from.difference, 1) : '–') },
          { head: 'U, 95 % / K', figure: true, cell: ({ from }) => (from ? `± ${write(from.budget.expanded, 2)}` : '–') },
        ]}
      />
      <p className="mt-2 text-note text-soft">
        Sources, as standard uncertainties for {first.specimen}:{' '}
        {sources.map((c) => `${c.name} ${write(Math.abs(c.contribution), 3)} K`).join('; ')}. Combined {write(first.budget.combined, 2)} K,
        coverage factor {write(first.budget.coverage_factor, 2)}
        {freedomWords(first.budget.effective_df)}. The difference of one pair alone, not simultaneous.
      </p>
    </>
  );
}

function rigWords({ rigs, difference }: StudyBudget): string {
  if (rigs < 2)
    return 'Everything was measured on one rig: the errors of its instruments are the same in every absolute value and cancel in the differences.';
  const apart = difference.filter((d) => !d.cancels).map((d) => d.specimen);
  return apart.length === 0
    ? 'Several rigs were used equally for everything compared: the errors of their instruments cancel in the differences.'
    : `Several rigs were used, and ${apart.join(', ')} and the reference were not on each of them equally: the errors of the instruments stay in ${apart.length === 1 ? 'that difference' : 'those differences'}.`;
}
