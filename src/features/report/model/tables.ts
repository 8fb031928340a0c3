import { OUTCOMES } from '#core/compare/outcomes';
import { STEP_ENDS } from '#core/stability/ladder';
import { asMarkdownCell, midSentence } from '#core/text/words';
import type { ReportContent } from './content';

export interface ReportTable {
  key: string;
  title: string;
  columns: string[];
  rows: (string | number | null)[][];
}

/**
 * The tables of a report at full precision, for CSV, Markdown, HTML and the article itself.
 * A list of tables, one a section; nothing is computed here.
 */
export function reportTables(content: ReportContent): ReportTable[] {
  const { answer, runs, mounts } = content;
  const { unit: step, name: own } = OUTCOMES[answer.choice.outcome];
  // a version frozen before scales were kept stands on the outcome's own
  const { unit, name, plus } = answer.scale ?? { unit: step, name: own, plus: 0 };
  const worthUnit = OUTCOMES[content.worth_by?.outcome ?? 'rise'].unit;
  const level = (v: number | null | undefined) => (v == null ? null : v + plus);
  const { analysis } = answer;
  return [
    ...(analysis
      ? [
          {
            key: 'specimens',
            title: `Specimens by ${midSentence(name)}`,
            columns: ['Specimen', 'Mounts', 'Runs', `Mean / ${unit}`, `Low / ${unit}`, `High / ${unit}`, 'Letters', 'Chance of being best'],
            rows: analysis.specimens.map((s) => [
              s.specimen,
              s.mounts,
              s.runs,
              level(s.mean),
              level(s.ci?.[0]),
              level(s.ci?.[1]),
              s.group,
              s.chance_coolest,
            ]),
          },
          {
            key: 'pairs',
            title: 'Pairs',
            columns: [
              'a',
              'b',
              `a − b / ${step}`,
              `Low / ${step}`,
              `High / ${step}`,
              'p, family',
              'Verdict',
              'Firm',
              'Pooled',
              'Separate',
              'Strict',
            ],
            rows: analysis.pairs.map((p) => [
              p.a,
              p.b,
              p.difference,
              p.ci?.[0] ?? null,
              p.ci?.[1] ?? null,
              p.p_adjusted,
              p.verdict,
              p.firm ? 'yes' : 'no',
              p.pooled?.verdict ?? '',
              p.separate?.verdict ?? '',
              p.strict?.verdict ?? '',
            ]),
          },
        ]
      : []),
    {
      key: 'mounts',
      title: 'Mounts',
      columns: ['Specimen', 'Mount', `Value / ${unit}`, `At or above / ${unit}`, `At or below / ${unit}`, 'Left out because'],
      rows: mounts.map((m) => [m.specimen, m.mount, m.value, m.at_or_above, m.at_or_below ?? null, m.excluded_reason ?? '']),
    },
    ...((content.ladders ?? []).length > 0
      ? [
          {
            key: 'ladder',
            title: 'Steps of the ladder',
            columns: ['Load', 'Specimen', 'Mount', 'Run', 'Voltage / V', 'Clock / MHz', 'How it ended', 'Temperature / °C'],
            rows: (content.ladders ?? []).flatMap((t) =>
              t.rows.flatMap((r) =>
                t.steps.flatMap(({ voltage_v, clock_mhz }, i) => {
                  const end = r.ends[i];
                  return end
                    ? [[t.load ?? '', r.specimen, r.mount, r.run, voltage_v, clock_mhz, STEP_ENDS[end].toLowerCase(), r.temperatures[i]]]
                    : [];
                }),
              ),
            ),
          },
        ]
      : []),
    {
      key: 'runs',
      title: 'Runs',
      columns: ['Specimen', 'Mount', 'Run', 'Day', 'Rig', 'Load', 'ΔT / K', 'Resistance / K/W', 'Valid', 'Remark'],
      rows: runs.map((r) => [
        r.specimen,
        r.mount,
        r.run,
        r.day ?? '',
        r.rig,
        r.load ?? '',
        r.rise_k,
        r.r_k_per_w,
        r.valid ? 'yes' : 'no',
        r.reason,
      ]),
    },
    ...(content.worth.length > 1
      ? [
          {
            key: 'worth',
            title: 'Price and effort',
            columns: [
              'Specimen',
              `${content.worth_by?.years ? `${content.worth_by.years} years` : 'A mount'} / ${content.currency ?? ''}`,
              `Gain / ${worthUnit}`,
              `${worthUnit} per money more`,
              'Efficient',
            ],
            rows: content.worth.map((w) => [w.specimen, w.cost, w.gain, w.gain_per_money, w.efficient ? 'yes' : 'no']),
          },
        ]
      : []),
    ...(content.part
      ? [
          {
            key: 'part',
            title: 'Over all set-ups',
            columns: [
              'a',
              'b',
              'a − b / mm²·K/W',
              'Low 95 % / mm²·K/W',
              'High 95 % / mm²·K/W',
              'Low, another set-up',
              'High, another set-up',
            ],
            rows: content.part.pairs.map((p) => [p.a, p.b, p.difference, ...p.ci95, p.shown95?.[0] ?? null, p.shown95?.[1] ?? null]),
          },
        ]
      : []),
    ...(content.part_rooms
      ? [
          {
            key: 'limits',
            title: `Room to limits at ${content.part_rooms.room_c} °C`,
            columns: ['Specimen', ...content.part_rooms.parts.map((p) => `${p} / K`), 'Decides', 'Mounts'],
            rows: content.part_rooms.specimens.map((s) => [s.name, ...s.rooms, s.decides, s.mounts]),
          },
        ]
      : []),
    {
      key: 'method',
      title: 'Method as used',
      columns: ['What', 'As used'],
      rows: content.method.map((m) => [m.what, m.value]),
    },
  ];
}

/** A table as GitHub-flavoured Markdown. */
export function tableAsMarkdown({ columns, rows }: ReportTable): string {
  const cell = (v: string | number | null) => asMarkdownCell(String(typeof v === 'number' ? Number(v.toPrecision(7)) : (v ?? '')));
  const line = (cells: (string | number | null)[]) => `| ${cells.map(cell).join(' | ')} |`;
  return [line(columns), `| ${columns.map(() => '---').join(' | ')} |`, ...rows.map(line)].join('\n');
}

/** A table as a piece of HTML, escaped. */
export function tableAsHtml({ title, columns, rows }: ReportTable): string {
  const escaped = (v: string | number | null) =>
    String(v ?? '').replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] ?? c);
  const row = (cells: (string | number | null)[], tag: string) => `<tr>${cells.map((c) => `<${tag}>${escaped(c)}</${tag}>`).join('')}</tr>`;
  return `<table>\n<caption>${escaped(title)}</caption>\n<thead>${row(columns, 'th')}</thead>\n<tbody>\n${rows.map((r) => row(r, 'td')).join('\n')}\n</tbody>\n</table>\n`;
}
