import { useState } from 'react';
import type { Verdict } from '#core/compare/types';
import { write } from '#core/text/words';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import { TextButton } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';
import { Conflict } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** Optional analyses before the end, the error they spend, and what the mounts so far have settled. */
export function InterimPanel({ desk, levels, state }: { desk: PlanDesk; levels: PlanAnswer['looks']; state: PlanAnswer['settled'] }) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div>
        <LooksField desk={desk} />
        {levels.length > 0 && (
          <Table
            className="mt-3"
            rows={levels}
            keyOf={(l) => l.fraction}
            columns={[
              { head: 'After mounts of each', className: 'figure', cell: (l) => l.block },
              { head: 'Level / %', figure: true, cell: (l) => write(100 * l.nominal_alpha, 3) },
              { head: 'Error spent / %', figure: true, cell: (l) => write(100 * l.spent, 3) },
            ]}
          />
        )}
        <p className="mt-2 text-note text-soft">
          Each interim analysis spends a part of the error (Lan and DeMets, O’Brien–Fleming type), so that stopping early keeps the stated
          rate. Looking without a plan does not.
        </p>
      </div>
      {state ? (
        <div data-testid="looks">
          <p className="text-title font-semibold leading-tight">
            {state.settled.length} of {state.settled.length + state.open.length} pairs are settled after {state.blocks_done} of{' '}
            {state.blocks_planned} mounts of each.
          </p>
          <p className="mt-1 text-soft">
            {state.look === null
              ? levels.length > 0
                ? 'No planned analysis is due yet; these are not verdicts.'
                : 'No interim analysis was planned: the verdicts hold for a study that ends here, not for one that is analysed again and again until a verdict appears.'
              : `Judged after ${state.look} mounts of each with ${write(100 * state.confidence, 2)} % confidence; ${write(100 * state.spent, 2)} % of the error is spent.`}
            {state.next_look !== null && ` Next analysis after ${state.next_look} mounts of each.`}
          </p>
          <div className="mt-3 grid gap-x-8 gap-y-4 md:grid-cols-2">
            <Pairs title="Open" pairs={state.open} more />
            <Pairs title="Settled" pairs={state.settled} />
          </div>
        </div>
      ) : (
        <p className="text-soft">There is nothing to analyse before every one has two valid mounts.</p>
      )}
    </div>
  );
}

function Pairs({ title, pairs, more }: { title: string; pairs: NonNullable<PlanAnswer['settled']>['open']; more?: boolean }) {
  const [all, setAll] = useState(false);
  const shown = all ? pairs : pairs.slice(0, 8);
  return (
    <div>
      <h3 className="border-b border-ink pb-1 font-semibold">
        {title} <span className="figure font-normal">{pairs.length}</span>
      </h3>
      <ul>
        {shown.map((p) => (
          <li key={`${p.a} ${p.b}`} className="flex justify-between gap-3 border-b border-rule py-1">
            <span>
              {p.a} and {p.b}
            </span>
            <span className="text-right text-soft">
              {more
                ? p.more_mounts === null
                  ? 'more than 30 further mounts of each'
                  : `about ${p.more_mounts} further mounts of each`
                : settledWords(p)}
            </span>
          </li>
        ))}
      </ul>
      {pairs.length > shown.length && (
        <TextButton className="mt-1" onClick={() => setAll(true)}>
          Show all {pairs.length}
        </TextButton>
      )}
      {pairs.length === 0 && <p className="py-1 text-soft">none</p>}
    </div>
  );
}

function settledWords({ a, b, verdict }: { a: string; b: string; verdict: Verdict }): string {
  if (verdict === 'tied') return 'equivalent';
  const cooler = verdict.startsWith('cooler') ? a : b;
  return `${cooler} cooler${verdict.endsWith('within_margin') ? ', less than matters' : ''}`;
}

/** Numbers of mounts as a person writes them: 3, 5. */
function LooksField({ desk }: { desk: PlanDesk }) {
  const [text, setText] = useState((desk.plan.looks ?? []).join(', '));
  return (
    <div>
      <label htmlFor="look-blocks" className="block font-semibold">
        Analyse after so many mounts of each
      </label>
      <input
        id="look-blocks"
        className="field figure w-full"
        value={text}
        placeholder="none; such as 2, 3"
        aria-invalid={Boolean(desk.errors.looks)}
        aria-describedby="looks-note"
        onChange={(e) => {
          setText(e.target.value);
          const blocks = e.target.value
            .split(/[\s,;]+/)
            .filter(Boolean)
            .map(Number);
          if (blocks.some((b) => !Number.isInteger(b))) desk.refuse('looks', 'These are whole numbers of mounts, such as 2, 3.');
          else desk.set('looks', blocks.length > 0 ? blocks : null);
        }}
      />
      <p
        id="looks-note"
        role={desk.errors.looks ? 'alert' : undefined}
        className={`text-note ${desk.errors.looks ? 'font-semibold text-ember' : 'text-soft'}`}
      >
        {desk.errors.looks ?? 'The analysis at the end comes by itself.'}
      </p>
      <Conflict desk={desk} field="looks" />
    </div>
  );
}
