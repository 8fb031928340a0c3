import { Bar, BarChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { PairShares, Rehearsal } from '#core/design/rehearse';
import { write, writeMargin, writeSigned } from '#core/text/words';
import type { ResolvedPlan } from '#features/study/model/resolve';
import { ChartFrame } from '#ui/ChartFrame.tsx';

/** pairs shown: those the plan is weakest on */
const SHOWN = 12;

/** What the rehearsed studies came to: shares of right, wrong and unresolved verdicts, and the pairs the plan is weakest on. */
export function RehearsalShares({ rehearsal, stale, plan }: { rehearsal: Rehearsal; stale: boolean; plan: ResolvedPlan }) {
  const percent = (v: number) => `${write(100 * v, v > 0 && v < 0.1 ? 1 : 0)} %`;
  const weak = [...rehearsal.pairs].sort((a, b) => a.correct - b.correct || b.wrong - a.wrong);
  const nominal = 1 - plan.comparison.confidence;
  const throttled = rehearsal.throttled.filter((t) => t.share > 0);
  return (
    <div className={stale ? 'opacity-60' : ''} data-testid="rehearsal">
      <p className="text-title font-semibold leading-tight">
        {percent(rehearsal.correct)} of the verdicts come out right, {percent(rehearsal.wrong)} wrong, {percent(rehearsal.unresolved)}{' '}
        unresolved.
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
        <PairBars pairs={weak.slice(0, SHOWN)} margin={plan.comparison.margin} />
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
          <YAxis
            type="category"
            dataKey="name"
            width={290}
            stroke="var(--soft)"
            tick={{ fill: 'var(--ink)', fontSize: 13 }}
            interval={0}
            tickLine={false}
          />
          <Bar dataKey="right" fill="var(--cool)" {...bar} />
          <Bar dataKey="unresolved" fill="url(#unresolved)" stroke="var(--soft)" {...bar} />
          <Bar dataKey="wrong" fill="var(--ember)" {...bar} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}
