import { useState } from 'react';
import { bothEnds } from '#core/text/bothEnds';
import { list, plural } from '#core/text/words';
import type { NetworkLine } from '#features/ranking/model/network';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { contentWidth } from '#ui/useWidth';

const MOST_DRAWN = 40;
const MOST_LISTED = 60;

interface EvidenceNetworkProps {
  /** keys of materials, best first */
  order: string[];
  names: Record<string, string>;
  lines: NetworkLine[];
  setupNames: Record<string, string>;
  width: number;
}

/** Which materials were measured side by side: marks in the order of the ranking, and an arc for every pair that shares a set-up. */
export function EvidenceNetwork({ order, names, lines, setupNames, width: page }: EvidenceNetworkProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const width = contentWidth(page);
  const nameOf = (key: string) => names[key] ?? key;
  // of many materials those beside the chosen one are drawn
  const near = chosen === null ? [] : lines.flatMap((l) => (l.a === chosen ? [l.b] : l.b === chosen ? [l.a] : []));
  const drawn =
    order.length <= MOST_DRAWN ? order : order.filter((m) => m === (chosen ?? order[0]) || near.includes(m)).slice(0, MOST_DRAWN);
  const step = width / Math.max(drawn.length, 1);
  const x = new Map(drawn.map((m, i) => [m, (i + 0.5) * step]));
  const shown = lines.filter((l) => x.has(l.a) && x.has(l.b));
  const reach = Math.max(...shown.map((l) => Math.abs((x.get(l.a) ?? 0) - (x.get(l.b) ?? 0))), step);
  const arcs = Math.min(190, reach / 2);
  const baseline = arcs + 14;
  // names hang below their marks, turned where they would run into each other
  const isTurned = step < 110;
  const foot = isTurned ? 110 : 40;
  const isOf = (l: NetworkLine) => chosen === null || l.a === chosen || l.b === chosen;
  return (
    <div>
      <ChartFrame
        title="Network of evidence"
        table={{
          columns: ['Material', 'Other material', 'Set-ups with both', 'Which', 'Weight / share of the heaviest'],
          rows: lines.map((l) => [
            ...[nameOf(l.a), nameOf(l.b), l.setups.length, l.setups.map((s) => setupNames[s] ?? s).join('; '), Number(l.weight.toFixed(3))],
          ]),
        }}
        note={`Arc: a pair that at least one set-up has measured side by side, the thicker the surer. ${order.length > MOST_DRAWN ? `Of ${order.length} materials those beside the chosen one are drawn.` : 'Choose a material to see its own.'}`}
      >
        {/* biome-ignore lint/a11y/useSemanticElements: a drawing with buttons in it can be no fieldset */}
        <svg
          className="recharts-surface"
          width={width}
          height={baseline + foot}
          viewBox={`0 0 ${width} ${baseline + foot}`}
          role="group"
          aria-label="Network of evidence"
          fontFamily="var(--font-sans)"
        >
          {[...shown]
            .sort((a, b) => Number(isOf(a)) - Number(isOf(b)))
            .map((l) => {
              const [from, to] = [x.get(l.a) ?? 0, x.get(l.b) ?? 0].sort((a, b) => a - b);
              const high = arcs * ((to - from) / reach);
              return (
                <path
                  key={`${l.a} ${l.b}`}
                  d={`M${from} ${baseline}C${from} ${baseline - 1.33 * high},${to} ${baseline - 1.33 * high},${to} ${baseline}`}
                  fill="none"
                  stroke={isOf(l) ? 'var(--ink)' : 'var(--rule)'}
                  strokeOpacity={chosen === null ? 0.4 : isOf(l) ? 0.8 : 1}
                  strokeWidth={0.75 + 5 * l.weight}
                >
                  <title>{`${nameOf(l.a)} and ${nameOf(l.b)}: ${plural(l.setups.length, 'set-up')}`}</title>
                </path>
              );
            })}
          {drawn.map((m) => (
            // biome-ignore lint/a11y/useSemanticElements: a mark in a drawing can be no button element
            <g
              key={m}
              role="button"
              tabIndex={0}
              aria-pressed={m === chosen}
              aria-label={nameOf(m)}
              style={{ cursor: 'pointer' }}
              onClick={() => setChosen(m === chosen ? null : m)}
              onKeyDown={(e) => {
                if (e.key !== 'Enter' && e.key !== ' ') return;
                e.preventDefault();
                setChosen(m === chosen ? null : m);
              }}
            >
              <rect
                x={(x.get(m) ?? 0) - Math.min(step / 2, 24)}
                y={baseline - 14}
                width={Math.min(step, 48)}
                height={28}
                fill="transparent"
              />
              <circle
                cx={x.get(m)}
                cy={baseline}
                r={8}
                fill={m === chosen ? 'var(--ink)' : 'var(--paper)'}
                stroke="var(--ink)"
                strokeWidth={2}
              />
              <text
                fontSize={14}
                fill="var(--ink)"
                fontWeight={m === chosen ? 600 : 400}
                {...(isTurned
                  ? { transform: `translate(${(x.get(m) ?? 0) + 4} ${baseline + 22}) rotate(35)` }
                  : { x: x.get(m), y: baseline + 28, textAnchor: 'middle' as const })}
              >
                {bothEnds(nameOf(m), 16)}
              </text>
            </g>
          ))}
        </svg>
      </ChartFrame>
      {chosen !== null && (
        <p role="status" className="mt-2">
          {near.length === 0
            ? `${nameOf(chosen)} shares a set-up with no other material.`
            : `${nameOf(chosen)} was measured side by side with ${list(
                near.slice(0, MOST_LISTED).map(
                  (m) =>
                    `${nameOf(m)} (${lines
                      .find((l) => isPair(l, chosen, m))
                      ?.setups.map((s) => setupNames[s] ?? s)
                      .join('; ')})`,
                ),
              )}.`}
        </p>
      )}
    </div>
  );
}

const isPair = (l: NetworkLine, a: string, b: string) => (l.a === a && l.b === b) || (l.a === b && l.b === a);
