import { useMemo, useState } from 'react';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair } from '#core/compare/types';
import { write, writeSigned } from '#core/text/words';
import { Tick } from '#ui/Form.tsx';
import { SortTable, sortColumns } from '#ui/SortTable.tsx';
import { verdictWords } from './verdictWords';

const column = sortColumns<AnalysedPair>();

const columnsFor = (outcome: OutcomeKey) => {
  const { unit, digits } = OUTCOMES[outcome];
  return column.columns([
    column.accessor('a', { header: 'a' }),
    column.accessor('b', { header: 'b' }),
    column.accessor('difference', { header: `a − b / ${unit}`, cell: (c) => writeSigned(c.getValue(), digits + 1) }),
    column.accessor((p) => p.ci?.[0] ?? null, {
      id: 'low',
      header: `Interval / ${unit}`,
      cell: ({ row: { original: p } }) =>
        p.ci === null ? 'none: all equal' : `${write(p.ci[0], digits + 1)} to ${write(p.ci[1], digits + 1)}`,
    }),
    column.accessor('p_adjusted', { header: 'p, family', cell: (c) => pWords(c.getValue()) }),
    column.accessor('verdict', { header: 'Verdict', cell: ({ row }) => verdictWords(row.original.verdict, outcome) }),
    column.accessor((p) => (p.firm ? 'firm' : p.separate ? 'leans' : 'assumed'), {
      id: 'firm',
      header: 'Rests on',
      cell: ({ row }) => restsOn(row.original, outcome),
    }),
  ]);
};

const pWords = (p: number | null) => (p === null ? 'none' : p < 0.0001 ? '< 0.0001' : write(p, 4));

const NUMERIC = new Set(['difference', 'low', 'p_adjusted']);
const STRONG = new Set(['verdict']);

function restsOn(p: AnalysedPair, outcome: OutcomeKey): string {
  if (p.ci === null) return 'no scatter to judge from';
  if (p.firm) return p.verdict === 'unresolved' ? 'all methods: open' : 'all methods: firm';
  if (!p.separate || !p.pooled) return 'assumed scatter';
  const schools = [`pooled: ${verdictWords(p.pooled.verdict, outcome)}`, `separate: ${verdictWords(p.separate.verdict, outcome)}`];
  return [...schools, ...(p.strict ? [`strict: ${verdictWords(p.strict.verdict, outcome)}`] : [])].join('; ');
}

/** All pairs with their intervals; the intervals hold together for the whole table. */
export function PairTable({ pairs, reference, outcome }: { pairs: AnalysedPair[]; reference: string | null; outcome: OutcomeKey }) {
  const columns = useMemo(() => columnsFor(outcome), [outcome]);
  const [onlyReference, setOnlyReference] = useState(reference !== null && pairs.length > 10);
  const data = useMemo(
    () => (onlyReference ? pairs.filter((p) => p.a === reference || p.b === reference) : pairs),
    [pairs, reference, onlyReference],
  );
  return (
    <div>
      {reference && <Tick words={`Only pairs with ${reference}`} className="mb-2" checked={onlyReference} onChange={setOnlyReference} />}
      <SortTable columns={columns} rows={data} label="Table of pairs" numeric={NUMERIC} strong={STRONG} dense />
    </div>
  );
}
