import { boundWords, OUTCOMES } from '#core/compare/outcomes';
import { write, writeMargin } from '#core/text/words';
import type { ReportContent } from '#features/report/model/content';
import { boundOfMount } from '#features/results/model/bounds';
import { MountDot, mountPoints, wrapName } from '#features/results/view/Ladder.tsx';
import { rampColour } from '#ui/kelvinRamp';
import { MarkShape } from '#ui/SpecimenMark.tsx';

const HEAD = 30;
const FOOT = 46;

/** Ladder of a report's content as far as it is drawn. */
export type LadderContent = Pick<ReportContent, 'title' | 'reference' | 'confidence' | 'answer'>;

/** What the signs of a ladder stand for. */
export function ladderNote({ answer, confidence }: LadderContent): string {
  const { outcome } = answer.choice;
  const bounds = answer.rungs.flatMap((s) => s.mounts.flatMap((m) => boundOfMount(m) ?? []));
  const ways = [...new Set(bounds.map((b) => boundWords(outcome, b.side)))];
  const arrows = ways.length > 0 ? ` Arrow: a mount that ${ways.map((w) => `${w.did}, ${w.from} its figure`).join('; or ')}.` : '';
  return `Dots: mounts. Bars: ${Number((100 * confidence).toFixed(1))} % interval of the mean. Specimens that share a group letter are not distinguishable.${arrows}`;
}

/** The ladder as a drawing that stands by itself: no script, text as text, the colours of whatever it lies on. */
export function LadderFigure({ content, width, id }: { content: LadderContent; width: number; id: string }) {
  const { answer, reference, confidence, title } = content;
  const { outcome } = answer.choice;
  const { digits, better, unit: step } = OUTCOMES[outcome];
  const { unit, name } = answer.scale ?? OUTCOMES[outcome];
  const narrow = width < 700;
  const sign = better === 'lower' ? 1 : -1;
  const rungs = [...answer.rungs].sort((a, b) => sign * (a.mean - b.mean));
  const rung = rungs.length > 6 ? 44 : 54;
  const { low, high, ticks } = answer.range;
  const plot = { left: narrow ? 108 : 178, right: width - (narrow ? 70 : 290), top: HEAD, height: rung * rungs.length };
  const x = (v: number) => plot.left + ((Math.min(Math.max(v, low), high) - low) / (high - low)) * (plot.right - plot.left);
  const y = (i: number) => plot.top + (i + 0.5) * rung;
  const bottom = plot.top + plot.height;
  const means = rungs.map((s) => sign * s.mean);
  const colour = (v: number) => rampColour(sign * v, Math.min(...means), Math.max(...means));
  const percent = `${Number((100 * confidence).toFixed(1))} %`;
  const referenceMean = rungs.find((s) => s.name === reference)?.mean ?? null;
  const band = `± ${writeMargin(answer.margin)} ${step} of ${reference}`;
  const half = 3.3 * band.length;
  const told = rungs.map((s) => `${s.name} ${write(s.mean, digits)} ${unit}`).join(', ');
  return (
    <svg
      xmlns="http://www.w3.org/2000/svg"
      viewBox={`0 0 ${width} ${bottom + FOOT}`}
      width="100%"
      role="img"
      aria-labelledby={`${id}-title ${id}-desc`}
      fontFamily="var(--font-sans)"
      fontSize={13}
    >
      <title id={`${id}-title`}>{`${name} by specimen: ${title}`}</title>
      <desc id={`${id}-desc`}>{`${told}. ${ladderNote(content)}`}</desc>
      {referenceMean !== null && (
        <>
          <rect
            x={x(referenceMean - answer.margin)}
            y={plot.top}
            width={Math.max(0, x(referenceMean + answer.margin) - x(referenceMean - answer.margin))}
            height={plot.height}
            fill="var(--band)"
          />
          <path d={`M${x(referenceMean)} ${plot.top}V${bottom}`} stroke="var(--ink)" strokeDasharray="1 4" />
          <text
            x={Math.max(plot.left + half, Math.min(x(referenceMean), plot.right - half))}
            y={plot.top - 8}
            textAnchor="middle"
            fill="var(--soft)"
          >
            {band}
          </text>
        </>
      )}
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M${x(t)} ${plot.top}V${bottom}`} stroke="var(--rule)" />
          <text x={x(t)} y={bottom + 18} textAnchor="middle" fill="var(--soft)" fontFamily="var(--font-figure)" fontSize={narrow ? 11 : 13}>
            {t}
          </text>
        </g>
      ))}
      <path d={`M${plot.left} ${bottom}H${plot.right}`} stroke="var(--ink)" />
      <text x={(plot.left + plot.right) / 2} y={bottom + 38} textAnchor="middle" fill="var(--soft)">
        {`${name} / ${unit}`}
      </text>
      <g fill="var(--soft)">
        <text x={plot.right + 16} y={plot.top - 8}>
          mean
        </text>
        {!narrow && (
          <>
            <text x={plot.right + 112} y={plot.top - 8}>
              {percent}
            </text>
            <text x={plot.right + 238} y={plot.top - 8}>
              group
            </text>
          </>
        )}
      </g>
      {rungs.map((s, i) => {
        const isReference = s.name === reference;
        const lines = wrapName(s.name, narrow ? 12 : 18);
        const size = lines.length === 1 && s.name.length <= (narrow ? 11 : 15) ? (narrow ? 14 : 18) : 13;
        const top = y(i) + 6 - (size / 2) * (lines.length - 1) - (isReference ? 8 : 0);
        return (
          <g key={s.name}>
            <path d={`M${plot.left} ${y(i) + rung / 2}H${plot.right}`} stroke="var(--rule)" />
            <MarkShape position={s.position} x={narrow ? 8 : 11} y={y(i)} size={narrow ? 6 : 7} />
            {lines.map((line, n) => (
              <text key={line} x={narrow ? 20 : 28} y={top + n * (size + 2)} fontSize={size} fontWeight={600} fill="var(--ink)">
                {line}
              </text>
            ))}
            {isReference && (
              <text x={narrow ? 20 : 28} y={top + (lines.length - 1) * (size + 2) + 16} fill="var(--soft)">
                reference
              </text>
            )}
            {s.ci && (
              <rect
                x={x(s.ci[0])}
                y={y(i) - 0.14 * rung - 4.5}
                width={Math.max(0, x(s.ci[1]) - x(s.ci[0]))}
                height={9}
                fill={colour(s.mean)}
              />
            )}
            <text x={plot.right + 16} y={y(i) + 7} fontSize={narrow ? 18 : 24} fontWeight={650} fill="var(--ink)">
              {write(s.mean, digits)}
              <tspan fontSize={unit.length > 2 ? 12 : 15} fontWeight={400}>{`\u202f${narrow && unit.length > 2 ? '' : unit}`}</tspan>
            </text>
            {!narrow && s.ci && (
              <text x={plot.right + 112} y={y(i) + 6} fontFamily="var(--font-figure)" fill="var(--soft)">
                {`${write(s.ci[0], digits)} to ${write(s.ci[1], digits)}`}
              </text>
            )}
            {!narrow && (
              <text x={plot.right + 238} y={y(i) + 6} fontSize={15} fontWeight={600} fontFamily="var(--font-figure)" fill="var(--ink)">
                {s.group}
              </text>
            )}
          </g>
        );
      })}
      {mountPoints(rungs, [low, high], unit, outcome).map((p) => (
        <g key={p.label}>
          <title>{p.label}</title>
          <MountDot cx={x(p.x)} cy={plot.top + (p.y + 0.5) * rung} payload={p} />
        </g>
      ))}
      {rungs.map((s, i) => (
        <MarkShape key={s.name} position={s.position} x={x(s.mean)} y={y(i) - 0.14 * rung} size={7.5} />
      ))}
    </svg>
  );
}
