import { bothEnds } from '#core/text/bothEnds';
import { write, writeSigned } from '#core/text/words';
import { axisRange } from '#core/units/axisRange';
import type { RailMaterial } from '#features/ranking/model/placeTypes';
import { evidenceWords, isMoreCareful, type RankingScale } from '#features/ranking/model/rankingWords';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { rampColour } from '#ui/kelvinRamp';
import { contentWidth } from '#ui/useWidth';

const HEAD = 52;
const FOOT = 30;
/** Least part of the scale that belongs to marks and 95 % intervals; what is predicted may be cut off beyond it. */
const LEAST_SHARE = 0.5;

interface RankingRailProps {
  materials: RailMaterial[];
  names: Record<string, string>;
  reference: string;
  scale: RankingScale;
  digits: number;
  /** of the page, CSS pixels */
  width: number;
  /** address of a material's own page */
  hrefOf: (material: string) => string;
  /** what is ranked */
  noun?: string;
}

/** Every material on one scale, best first: its estimate, its 95 % interval, and where it would lie in a set-up not measured yet. */
export function RankingRail({ materials, names, reference, scale, digits, width: page, hrefOf, noun = 'Material' }: RankingRailProps) {
  const narrow = page < 700;
  const width = contentWidth(page);
  const row = narrow ? 72 : 40;
  const { factor, unit } = scale;
  const plot = { left: narrow ? 12 : 226, right: width - (narrow ? 12 : 500), top: HEAD };
  const told = (v: number) => factor * v;
  const { low, high, ticks } = rangeOf(materials, factor);
  const clamp = (v: number) => Math.min(Math.max(v, low), high);
  const x = (v: number) => plot.left + ((clamp(v) - low) / (high - low)) * (plot.right - plot.left);
  const bottom = plot.top + row * materials.length;
  const values = materials.map((m) => told(m.difference));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const every = Math.max(1, Math.ceil((ticks.length * 52) / (plot.right - plot.left)));
  const referenceName = names[reference] ?? reference;
  const interval = ([a, b]: [number, number]) => `${write(told(a), digits)} to ${write(told(b), digits)}`;
  const isCut = materials.some((m) => m.shown95 && (told(m.shown95[0]) < low || told(m.shown95[1]) > high));
  return (
    <ChartFrame
      title={`${noun}s against ${referenceName}`}
      table={{
        columns: [
          ...[noun, `Against ${referenceName} / ${unit}`, `Low 95 % / ${unit}`, `High 95 % / ${unit}`],
          ...[`Low, another set-up / ${unit}`, `High, another set-up / ${unit}`, 'Set-ups', 'Mounts', 'Compared', 'Group'],
        ],
        rows: materials.map((m) => [
          ...[
            m.name,
            told(m.difference),
            m.material === reference ? null : told(m.ci95[0]),
            m.material === reference ? null : told(m.ci95[1]),
          ],
          ...[m.shown95 ? told(m.shown95[0]) : null, m.shown95 ? told(m.shown95[1]) : null, m.setups, m.mounts],
          ...[m.material === reference ? 'reference' : evidenceWords(m.through, m.shared_setups, names), m.group],
        ]),
      }}
      note={`Mark: estimate, hollow where no set-up has both it and ${referenceName}. Thick bar: 95 % interval. Thin line: where 95 of 100 set-ups not measured yet would show it${isCut ? '; an arrow where that reaches beyond the scale' : ''}.${materials.some(isMoreCareful) ? ' Where it ends within the bar, the few degrees of freedom make the bar the more careful of the two.' : ''}${materials.some((m) => m.group !== '') ? ` ${noun}s that share a letter are not distinguishable.` : ''}`}
      terms={['prediction_interval']}
    >
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing with links in it can be no fieldset */}
      <svg
        className="recharts-surface"
        width={width}
        height={bottom + FOOT}
        viewBox={`0 0 ${width} ${bottom + FOOT}`}
        fontFamily="var(--font-sans)"
        role="group"
        aria-label={`${noun}s against ${referenceName}, ${unit}`}
      >
        <defs>
          <linearGradient id="ranking-ramp">
            {[0, 0.25, 0.5, 0.75, 1].map((s) => (
              <stop key={s} offset={s} stopColor={rampColour(s, 0, 1)} />
            ))}
          </linearGradient>
        </defs>
        <text x={plot.left} y={14} fontSize={13} fill="var(--soft)">
          {`Difference to ${bothEnds(referenceName, narrow ? 14 : 40)} / ${unit}, less is better`}
        </text>
        {!narrow && (
          <g fontSize={13} fill="var(--soft)">
            <text x={plot.right + 76} y={14} textAnchor="end">
              {unit}
            </text>
            <text x={plot.right + 96} y={14}>
              95 % interval
            </text>
            <text x={plot.right + 246} y={14}>
              Set-ups · mounts, compared
            </text>
          </g>
        )}
        <rect x={plot.left} y={HEAD - 24} width={plot.right - plot.left} height={5} fill="url(#ranking-ramp)" />
        {ticks.map((t, i) => (
          <g key={t}>
            <path d={`M${x(t)} ${HEAD - 18}V${bottom}`} stroke="var(--rule)" />
            {i % every === 0 && (
              <text x={x(t)} y={bottom + 18} fontSize={13} textAnchor="middle" fill="var(--soft)" fontFamily="var(--font-figure)">
                {writeSigned(t, Number.isInteger(t) ? 0 : 1)}
              </text>
            )}
          </g>
        ))}
        <path d={`M${x(0)} ${HEAD - 18}V${bottom}`} stroke="var(--ink)" strokeDasharray="1 4" strokeWidth={1.5} />
        {materials.map((m, i) => {
          const isReference = m.material === reference;
          const at = x(told(m.difference));
          const y = plot.top + (i + 0.5) * row + (narrow ? 18 : 0);
          const isIndirect = m.through !== null;
          const says = isReference ? 'reference' : `${writeSigned(told(m.difference), digits)} ${unit}`;
          const ends = m.shown95?.map(told) as [number, number] | undefined;
          return (
            <g key={m.material}>
              {i > 0 && <path d={`M0 ${plot.top + i * row}H${width}`} stroke="var(--rule)" strokeWidth={0.6} />}
              <a href={hrefOf(m.material)} aria-label={`${m.name}: ${says}`}>
                <text
                  x={narrow ? 0 : plot.left - 14}
                  y={narrow ? y - 32 : y + 5}
                  textAnchor={narrow ? 'start' : 'end'}
                  fontSize={narrow ? 15 : 16}
                  fontWeight={600}
                  fill="var(--ink)"
                  style={{ textDecoration: 'underline', textDecorationColor: 'var(--rule)' }}
                >
                  {bothEnds(m.name, narrow ? 38 : 23)}
                  <title>{m.name}</title>
                </text>
              </a>
              {narrow && (
                <text x={0} y={y - 14} fontSize={14} fill="var(--ink)" fontFamily="var(--font-figure)">
                  {isReference ? 'reference' : `${writeSigned(told(m.difference), digits)} (${interval(m.ci95)})`}
                </text>
              )}
              {ends && (
                <g stroke="var(--ink)" strokeWidth={1.2} fill="none">
                  <path d={`M${x(ends[0])} ${y}H${x(ends[1])}`} />
                  {ends[0] >= low ? <path d={`M${x(ends[0])} ${y - 5}v10`} /> : <path d={`M${x(low) + 6} ${y - 5}l-6 5l6 5`} />}
                  {ends[1] <= high ? <path d={`M${x(ends[1])} ${y - 5}v10`} /> : <path d={`M${x(high) - 6} ${y - 5}l6 5l-6 5`} />}
                </g>
              )}
              {!isReference && (
                <path d={`M${x(told(m.ci95[0]))} ${y}H${x(told(m.ci95[1]))}`} stroke="var(--ink)" strokeWidth={5} strokeLinecap="butt" />
              )}
              <circle
                cx={at}
                cy={y}
                r={8}
                fill={isIndirect ? 'var(--paper)' : rampColour(told(m.difference), least, most)}
                stroke="var(--ink)"
                strokeWidth={isIndirect ? 2.5 : 1.5}
              >
                <title>{`${m.name}: ${says}`}</title>
              </circle>
              {!narrow && (
                <g fontSize={15} fill="var(--ink)" fontFamily="var(--font-figure)">
                  <text x={plot.right + 76} y={y + 5} textAnchor="end" fontWeight={600}>
                    {isReference ? '0' : writeSigned(told(m.difference), digits)}
                  </text>
                  <text x={plot.right + 96} y={y + 5}>
                    {isReference ? 'reference' : interval(m.ci95)}
                  </text>
                  <text x={plot.right + 246} y={y + 5} fontSize={13} fontFamily="var(--font-sans)">
                    {`${m.setups} · ${m.mounts}${isReference ? '' : `, ${shortened(isIndirect ? evidenceWords(m.through, 0, names) : `direct in ${m.shared_setups}`, 20)}`}`}
                    <title>{isReference ? 'reference' : evidenceWords(m.through, m.shared_setups, names)}</title>
                  </text>
                  {m.group !== '' && (
                    <text x={width - 4} y={y + 5} textAnchor="end" fontSize={13}>
                      {m.group}
                    </text>
                  )}
                </g>
              )}
            </g>
          );
        })}
        {!narrow && materials.some((m) => m.group !== '') && (
          <text x={width - 4} y={14} fontSize={13} textAnchor="end" fill="var(--soft)">
            Group
          </text>
        )}
      </svg>
    </ChartFrame>
  );
}

const shortened = (text: string, most: number): string => (text.length <= most ? text : `${text.slice(0, most - 1).trimEnd()}…`);

/** The scale: all of marks and 95 % intervals, and of what is predicted as much as leaves them half of it. */
function rangeOf(materials: RailMaterial[], factor: number) {
  const inner = [0, ...materials.flatMap((m) => [m.difference, ...m.ci95].map((v) => factor * v))];
  const [low, high] = [Math.min(...inner), Math.max(...inner)];
  const span = (high - low) / LEAST_SHARE || 1;
  const outer = materials.flatMap((m) => m.shown95?.map((v) => factor * v) ?? []);
  const room = (span - (high - low)) / 2;
  return axisRange([...inner, ...outer.map((v) => Math.min(Math.max(v, low - room), high + room))]);
}
