import { ComposedChart, Line, ReferenceDot, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { CurvePoint } from '#core/design/mountsCurve';
import { plural, write, writeMargin } from '#core/text/words';
import { roughHours, studyCost } from '#features/study/model/cost';
import { comparedNoun } from '#features/study/model/factors';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import type { ResolvedPlan } from '#features/study/model/resolve';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { Scroll } from '#ui/Table.tsx';

/** widths that the chart and the rows of figures below it share */
const LEFT = 92;
const RIGHT = 52;

interface MountsCurveProps {
  plan: ResolvedPlan;
  answer: PlanAnswer;
  onMounts: (mounts: number) => void;
}

/** What the curve holds as it is worked on, and what follows from it. */
function useCurve({ plan, answer: { points, needed }, onMounts }: MountsCurveProps) {
  const { comparison, said } = plan;
  const unit = comparison.unit ?? 'K';
  const chosen = points.find((p) => p.mounts === said.mounts);
  const rows = points.map((p) => ({
    ...p,
    tied: 100 * p.equivalence_power,
    hours: roughHours(plan, p.mounts),
    cost: studyCost(plan, p.mounts),
  }));
  const top = niceTop(Math.min(points[0].detectable_k, Math.max(4 * comparison.margin, 1.15 * (chosen?.detectable_k ?? 0))));
  const priced = rows.some((r) => r.cost.total > 0);
  const columns = { display: 'grid', gridTemplateColumns: `${LEFT}px repeat(${points.length}, minmax(0, 1fr)) ${RIGHT}px` };
  return { plan, unit, chosen, needed, rows, points, top, comparison, columns, said, onMounts, priced };
}
type Curve = ReturnType<typeof useCurve>;

/** What each number of mounts can tell: the detectable difference, the chance to call equals tied, and what it costs. */
export function MountsCurve(props: MountsCurveProps) {
  const curve = useCurve(props);
  const { plan, unit, chosen, needed, rows } = curve;
  return (
    <div>
      <p className="text-verdict font-semibold leading-tight tracking-tight" data-testid="plan-headline">
        {headline(plan, chosen, needed)}
      </p>
      <p className="mt-1 text-soft">{basis(plan, chosen)}</p>
      <ChartFrame
        title="Detectable difference against mounts of each"
        note="Line: detectable difference. Dashes: share of studies that show two equal ones to be equivalent. The step at 4 mounts is where each one's own scatter replaces the pooled one."
        terms={['detectable', 'power', 'equivalent']}
        table={{
          columns: [
            'mounts of each',
            `detectable difference / ${unit}`,
            'equivalent / %',
            'scatter',
            'hours, about',
            `cost / ${rows[0].cost.currency ?? ''}`,
          ],
          rows: rows.map((r) => [r.mounts, r.detectable_k, r.tied, r.school, r.hours, r.cost.total]),
        }}
      >
        <CurveDrawing curve={curve} />

        <CurveTable curve={curve} />
      </ChartFrame>
    </div>
  );
}

const Row = ({ label, values, strong }: { label: string; values: string[]; strong?: boolean[] }) => (
  <>
    <span className="pr-2 text-right text-note text-soft">{label}</span>
    {values.map((v, i) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: columns are fixed
      <span key={i} className={`figure text-note ${strong?.[i] ? 'font-semibold text-cool' : ''}`}>
        {v}
      </span>
    ))}
    <span />
  </>
);

function headline({ comparison, said }: ResolvedPlan, chosen: CurvePoint | undefined, needed: number | null): string {
  const { unit = 'K' } = comparison;
  const margin = writeMargin(comparison.margin);
  if (said.mounts < 2)
    return `One mount each cannot separate a difference from the scatter between mounts.${needed ? ` To find ${margin} ${unit} it takes ${needed} mounts each.` : ''}`;
  const finds = chosen
    ? `${said.mounts} mounts each find ${write(chosen.detectable_k, digitsOf(chosen.detectable_k))} ${unit}`
    : `${said.mounts} mounts each`;
  if (needed === null) return `${finds}; no practical number of mounts finds ${margin} ${unit}.`;
  if (needed <= said.mounts)
    return `${finds}: enough for the ${margin} ${unit} that matter${needed < said.mounts ? `; ${needed} would be enough` : ''}.`;
  return `${finds}; for ${margin} ${unit} it takes ${needed} each.`;
}

function basis({ comparison, said, sd_basis, run_basis }: ResolvedPlan, chosen: CurvePoint | undefined): string {
  const where = (mounts: number | null) =>
    mounts === null
      ? 'as entered'
      : mounts === 0
        ? comparison.unit
          ? 'assumed: not measured yet'
          : 'assumed: no history yet'
        : `from ${mounts} mounts of this lab`;
  const tied = chosen
    ? ` Two that are equal are shown to be equivalent in ${write(100 * chosen.equivalence_power, 0)} % of such studies.`
    : '';
  const schools = chosen ? ` ${chosen.school === 'pooled' ? 'One pooled scatter' : 'Each its own scatter'}.` : '';
  return `With ${write(100 * said.power, 0)} % power, ${plural(comparison.specimens, comparedNoun(said))}, ${said.family === 'all' ? 'all pairs' : 'pairs with the reference'}; mount scatter ${write(comparison.mount_sd, 2)} ${comparison.unit ?? 'K'} (${where(sd_basis)}), run scatter ${write(comparison.run_sd, 2)} ${comparison.unit ?? 'K'} (${where(run_basis)}).${schools}${tied}`;
}

/** Decimals that keep two figures of what is found. */
const digitsOf = (value: number): number => (value >= 9.95 ? 0 : value >= 0.2 ? 1 : value >= 0.02 ? 2 : 3);

/** A round figure at or above a value, for the top of an axis. */
function niceTop(value: number): number {
  const step = 10 ** Math.floor(Math.log10(value));
  return [1, 1.5, 2, 3, 4, 6, 8, 10].map((m) => m * step).find((t) => t >= value) ?? value;
}

/** The curve itself. */
const CurveDrawing = ({ curve: { unit, rows, points, top, comparison, chosen } }: { curve: Curve }) => (
  <div className="mt-3 h-[248px] overflow-hidden">
    <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 248 }}>
      <ComposedChart data={rows} margin={{ top: 14, right: 0, bottom: 0, left: 0 }} accessibilityLayer>
        <XAxis dataKey="mounts" type="number" domain={[points[0].mounts - 0.5, points[points.length - 1].mounts + 0.5]} hide />
        <YAxis
          yAxisId="k"
          width={LEFT}
          domain={[0, top]}
          allowDataOverflow
          tickCount={5}
          stroke="var(--soft)"
          tick={{ fill: 'var(--soft)', fontSize: 13 }}
          label={{
            value: `detectable difference / ${unit}`,
            angle: -90,
            position: 'insideLeft',
            offset: 14,
            style: { fill: 'var(--ink)', fontSize: 13, textAnchor: 'middle' },
          }}
        />
        <YAxis
          yAxisId="share"
          orientation="right"
          width={RIGHT}
          domain={[0, 100]}
          ticks={[0, 50, 100]}
          stroke="var(--soft)"
          tick={{ fill: 'var(--soft)', fontSize: 13 }}
          label={{
            value: 'equivalent / %',
            angle: 90,
            position: 'insideRight',
            offset: 6,
            style: { fill: 'var(--cool)', fontSize: 13, textAnchor: 'middle' },
          }}
        />
        <ReferenceLine
          yAxisId="k"
          y={comparison.margin}
          stroke="var(--ember)"
          strokeWidth={2}
          label={({ viewBox }: { viewBox?: { y?: number } }) => (
            <text x={LEFT + 8} y={(viewBox?.y ?? 0) + 17} fill="var(--ember)" fontSize={13} fontWeight={600}>
              {writeMargin(comparison.margin)} {unit} matters
            </text>
          )}
        />
        {chosen && <ReferenceLine yAxisId="k" x={chosen.mounts} stroke="var(--band)" strokeWidth={40} />}
        <Line
          yAxisId="share"
          dataKey="tied"
          stroke="var(--cool)"
          strokeWidth={2}
          strokeDasharray="2 5"
          dot={false}
          isAnimationActive={false}
        />
        <Line
          yAxisId="k"
          dataKey="detectable_k"
          stroke="var(--ink)"
          strokeWidth={3}
          dot={{ r: 3, fill: 'var(--ink)', strokeWidth: 0 }}
          isAnimationActive={false}
        />
        {chosen && (
          <ReferenceDot
            yAxisId="k"
            x={chosen.mounts}
            y={Math.min(top, chosen.detectable_k)}
            r={8}
            fill="var(--ember)"
            stroke="var(--paper)"
            strokeWidth={2}
          />
        )}
      </ComposedChart>
    </ResponsiveContainer>
  </div>
);

/** What each number of mounts finds and costs. */
const CurveTable = ({ curve: { unit, columns, rows, said, onMounts, comparison, priced } }: { curve: Curve }) => (
  <Scroll label="What each number of mounts finds and costs">
    <div style={{ ...columns, minWidth: 620 }} className="border-t border-ink pt-1 text-center">
      <span className="pr-2 text-right font-semibold">mounts</span>
      {rows.map((r) => (
        <button
          key={r.mounts}
          type="button"
          className={`figure mx-0.5 rounded-[2px] py-0.5 hover:bg-band ${r.mounts === said.mounts ? 'bg-ember font-semibold text-on-ember hover:bg-ember' : ''}`}
          aria-pressed={r.mounts === said.mounts}
          aria-label={`Plan ${r.mounts} mounts of each`}
          onClick={() => onMounts(r.mounts)}
        >
          {r.mounts}
        </button>
      ))}
      <span />
      <Row
        label={`finds / ${unit}`}
        values={rows.map((r) => write(r.detectable_k, digitsOf(r.detectable_k)))}
        strong={rows.map((r) => r.detectable_k <= comparison.margin)}
      />
      <Row label="equivalent / %" values={rows.map((r) => write(r.tied, 0))} />
      <Row label="about / h" values={rows.map((r) => write(r.hours, 0))} />
      {priced && <Row label={`cost / ${rows[0].cost.currency ?? '?'}`} values={rows.map((r) => write(r.cost.total, 0))} />}
    </div>
  </Scroll>
);
