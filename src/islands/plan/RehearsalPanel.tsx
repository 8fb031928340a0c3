import { proxy, type Remote, wrap } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Bar, BarChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { write, writeMargin, writeSigned } from '#core/compare/number';
import type { PairShares, Rehearsal } from '#core/plan/rehearse';
import { rehearsalOf } from '#domain/plan/resolve';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import type { RehearsalApi } from '../../workers/rehearsal.worker.ts';
import { PlanField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan.ts';

const COUNT = 2000;
/** pairs shown: those the plan is weakest on */
const SHOWN = 12;

/** Simulates the plan through the same comparison as its results, and says where it is weak. */
export function RehearsalPanel({ desk }: { desk: PlanDesk }) {
  const plan = useMemo(() => rehearsalOf(desk.resolved), [desk.resolved]);
  const key = JSON.stringify(plan);
  const worker = useRef<{ raw: Worker; api: Remote<RehearsalApi> } | null>(null);
  const [done, setDone] = useState<number | null>(null);
  const [result, setResult] = useState<{ rehearsal: Rehearsal; key: string } | null>(null);
  const [told, setTold] = useState('');
  useEffect(() => () => worker.current?.raw.terminate(), []);

  const start = async () => {
    if (!plan) return;
    if (!worker.current) {
      const raw = new Worker(new URL('../../workers/rehearsal.worker.ts', import.meta.url), { type: 'module' });
      worker.current = { raw, api: wrap<RehearsalApi>(raw) };
    }
    setDone(0);
    setTold('');
    // reports of progress come on a line of their own, and may arrive after the end
    let running = true;
    const progress = (n: number) => {
      if (running) setDone(n);
    };
    const rehearsal = await worker.current.api.rehearse(plan, COUNT, desk.resolved.said.seed, proxy(progress)).catch((error: Error) => {
      setTold(`The rehearsal broke off: ${error.message}`);
      return null;
    });
    running = false;
    setDone(null);
    if (rehearsal) setResult({ rehearsal, key });
    else setTold((t) => t || 'Cancelled.');
  };

  const supposed = desk.resolved.specimens.filter((s) => s.plan.rise_k != null).length;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 lg:grid-cols-[300px_minmax(0,1fr)]">
      <div className="flex flex-col gap-3">
        <p>
          {supposed === 0
            ? 'No rise is supposed of any specimen, so the rehearsal shows what is called where nothing differs. Enter supposed rises above to see what the plan finds.'
            : supposed === desk.resolved.specimens.length
              ? 'The supposed rises of all specimens are taken for true.'
              : `The rises supposed of ${supposed} of ${desk.resolved.specimens.length} specimens are taken for true; the others equal the reference.`}
        </p>
        <div className="grid grid-cols-2 gap-3">
          <PlanField desk={desk} field="day_sd" hint={null} />
          <PlanField desk={desk} field="failure_pct" />
        </div>
        <div className="flex flex-wrap items-center gap-3">
          <button type="button" className={result ? 'quiet' : 'act'} disabled={!plan || done !== null} onClick={() => void start()}>
            Rehearse {COUNT.toLocaleString('en')} times
          </button>
          {done !== null && (
            <button type="button" className="quiet" onClick={() => void worker.current?.api.cancel()}>
              Cancel
            </button>
          )}
        </div>
        {done !== null && (
          <label className="text-note text-soft">
            {done.toLocaleString('en')} of {COUNT.toLocaleString('en')} studies simulated and compared
            <progress className="block w-full accent-[var(--ember)]" max={COUNT} value={done} />
          </label>
        )}
        {!plan && <p className="text-soft">It needs two specimens and a reference.</p>}
        <p aria-live="polite" className="text-soft">
          {told || (result && result.key !== key ? 'The plan changed since this rehearsal; rehearse it again.' : '')}
        </p>
      </div>
      {result ? <Shares rehearsal={result.rehearsal} stale={result.key !== key} desk={desk} /> : <div />}
    </div>
  );
}

function Shares({ rehearsal, stale, desk }: { rehearsal: Rehearsal; stale: boolean; desk: PlanDesk }) {
  const percent = (v: number) => `${write(100 * v, v > 0 && v < 0.1 ? 1 : 0)} %`;
  const weak = [...rehearsal.pairs].sort((a, b) => a.correct - b.correct || b.wrong - a.wrong);
  const nominal = 1 - desk.resolved.comparison.confidence;
  const throttled = rehearsal.throttled.filter((t) => t.share > 0);
  return (
    <div className={stale ? 'opacity-60' : ''} data-testid="rehearsal">
      <p className="text-title font-semibold leading-tight">
        {percent(rehearsal.correct)} of the verdicts come out right, {percent(rehearsal.wrong)} wrong, {percent(rehearsal.unresolved)} unresolved.
      </p>
      <p className="mt-1 mb-3 text-soft">
        Any wrong verdict in {percent(rehearsal.wrong_any)} of {rehearsal.count.toLocaleString('en')} studies{' '}
        {rehearsal.wrong_any > nominal + 0.01 ? `(the plan states ${percent(nominal)})` : `(at most ${percent(nominal)} is stated)`};{' '}
        {write(rehearsal.hours, 0)} rig hours, conditioning and cures among them
        {rehearsal.early > 0 ? `; ${percent(rehearsal.early)} of the studies end early at a look` : ''}.
        {throttled.length > 0 && ` Runs that throttle: ${throttled.map((t) => `${t.specimen} ${percent(t.share)}`).join(', ')}.`}
      </p>
      <ChartFrame
        title="Rehearsed verdicts by pair"
        note={`Filled: right. Hatched: unresolved. Ember: wrong. ${weak.length > SHOWN ? `The ${SHOWN} weakest of ${weak.length} pairs; the table has all.` : ''}`}
        table={{
          columns: ['a', 'b', 'supposed a − b / K', 'right / %', 'wrong / %', 'unresolved / %'],
          rows: weak.map((p) => [p.a, p.b, p.difference, 100 * p.correct, 100 * p.wrong, 100 * p.unresolved]),
        }}
      >
        <PairBars pairs={weak.slice(0, SHOWN)} margin={desk.resolved.comparison.margin} />
      </ChartFrame>
    </div>
  );
}

/** One bar a pair; right, unresolved and wrong are told apart by hatching as well as by colour. */
function PairBars({ pairs, margin }: { pairs: PairShares[]; margin: number }) {
  const data = pairs.map((p) => ({
    name: `${p.a} − ${p.b}: ${writeSigned(p.difference, 1)} K`,
    right: 100 * p.correct,
    unresolved: 100 * p.unresolved,
    wrong: 100 * p.wrong,
  }));
  const height = 26 * pairs.length + 48;
  const bar = { stackId: 'verdicts', isAnimationActive: false, barSize: 17 };
  return (
    <div style={{ height }}>
      <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height }}>
        <BarChart data={data} layout="vertical" margin={{ top: 0, right: 24, bottom: 22, left: 0 }} accessibilityLayer>
          <defs>
            <pattern id="unresolved" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="6" height="6" fill="var(--paper)" />
              <path d="M0 0V6" stroke="var(--soft)" strokeWidth="2" />
            </pattern>
          </defs>
          <XAxis
            type="number"
            domain={[0, 100]}
            ticks={[0, 25, 50, 75, 100]}
            stroke="var(--soft)"
            tick={{ fill: 'var(--soft)', fontSize: 13 }}
            label={{
              value: `share of the rehearsed studies / % (margin ${writeMargin(margin)} K)`,
              position: 'bottom',
              offset: 4,
              style: { fill: 'var(--ink)', fontSize: 13 },
            }}
          />
          <YAxis type="category" dataKey="name" width={290} stroke="var(--soft)" tick={{ fill: 'var(--ink)', fontSize: 13 }} interval={0} tickLine={false} />
          <Bar dataKey="right" fill="var(--cool)" {...bar} />
          <Bar dataKey="unresolved" fill="url(#unresolved)" stroke="var(--soft)" {...bar} />
          <Bar dataKey="wrong" fill="var(--ember)" {...bar} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}
