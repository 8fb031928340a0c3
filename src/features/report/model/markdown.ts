import { OUTCOMES } from '#core/compare/outcomes';
import { asMarkdown, asMarkdownCell, write, writeSigned } from '#core/text/words';
import type { DeviceCell, DeviceState, DeviceTable } from '#features/results/model/deviceChanges';
import { mainPairs, otherPairs } from '#features/results/model/pairs';
import type { ReportContent } from './content';
import { REPORT_SECTIONS, type ReportSectionKey } from './reportSections';
import { type ReportTable, reportTables, tableAsMarkdown } from './tables';

const TABLE_OF: Partial<Record<ReportSectionKey, string[]>> = {
  answer: ['specimens'],
  pairs: ['pairs'],
  mounts: ['mounts', 'ladder'],
  worth: ['worth'],
  limits: ['limits'],
  part: ['part'],
  method: ['method'],
};

/** The report as Markdown: its sentences, words and tables in the order of its sections. */
export function reportAsMarkdown(content: ReportContent): string {
  const tables = new Map(reportTables(content).map((t) => [t.key, t]));
  const parts = content.sections.flatMap(({ key, words }) => {
    const lines = sentencesOf(content, key);
    const shown = (TABLE_OF[key] ?? []).flatMap((k): ReportTable[] => {
      const table = tables.get(k);
      return table ? [table] : [];
    });
    if (lines.length === 0 && shown.length === 0 && words === '') return [];
    return [
      [`## ${REPORT_SECTIONS[key]}`, ...(words ? [asMarkdown(words)] : []), ...lines.map(asMarkdown), ...shown.map(tableAsMarkdown)].join(
        '\n\n',
      ),
    ];
  });
  return `${[`# ${asMarkdown(content.title)}`, ...parts].join('\n\n')}\n`;
}

/** The sentences of a section. */
function sentencesOf(content: ReportContent, key: ReportSectionKey): string[] {
  const { answer, findings } = content;
  const list = (items: string[]) => (items.length === 0 ? [] : [items.map((s) => `- ${s}`).join('\n')]);
  switch (key) {
    case 'question':
      return content.question ? [content.question] : [];
    case 'answer':
      return [
        `**${answer.headline.claim}** ${answer.headline.basis}`,
        ...(answer.unplaced.length > 0 ? [`Without a valid run: ${answer.unplaced.join('; ')}.`] : []),
      ];
    case 'recommendation':
      return content.recommendations.map((r) => `**${r.reader}:** ${r.words}`);
    case 'before_after':
      return content.before_after.flatMap((s) => [
        ...s.notes.map((n) => n.message),
        ...list(s.changes.flatMap((c) => [c.pair?.sentence ?? [], c.words ?? []].flat())),
        ...(s.devices ?? []).flatMap((d) => deviceLines(d, s.before, s.after)),
      ]);
    case 'verdicts':
      return list([...mainPairs(answer).map((p) => p.sentence), ...(answer.ranks ?? []), ...content.interactions.map((i) => i.sentence)]);
    case 'limits':
      return [...(content.limits_unread ? [content.limits_unread] : []), ...list(content.part_rooms?.sentences ?? [])];
    case 'pairs':
      return list(otherPairs(answer).map((p) => p.sentence));
    case 'scatter':
      return [answer.school, answer.leaning, content.look].filter((s) => s !== '');
    case 'drift':
      return content.drift ? [content.drift.sentence] : [];
    case 'held':
      return list(content.held.map((h) => `${h.what}: ${[h.value, h.tolerance].filter(Boolean).join(', ')}`));
    case 'findings':
      return [
        ...list(findings.comparison.map((f) => f.message)),
        ...list(
          findings.left_out.map(
            (l) =>
              `Left out: ${l.specimen} mount ${l.mount}${l.run === null ? '' : ` run ${l.run}`}: ${l.reason}${l.who ? ` (${l.who})` : ''}`,
          ),
        ),
        ...list(findings.runs.map((r) => `${r.specimen} mount ${r.mount} run ${r.run}: ${r.message}`)),
        ...list(findings.mounts.map((m) => `${m.specimen} mount ${m.mount}: ${m.message}`)),
      ];
    default:
      return [];
  }
}

/** One outcome over several devices: each with its change, then what they say together. */
function deviceLines({ outcome, load, cells, sentences }: DeviceTable, before: string, after: string): string[] {
  const { name, unit, digits } = OUTCOMES[outcome];
  const figure = (s: DeviceState) =>
    s.mean !== null ? write(s.mean, digits) : s.at_or_above !== null ? `≥ ${write(s.at_or_above, digits)}` : '–';
  const change = ({ change: c, ci }: DeviceCell) =>
    c === null ? '–' : `${writeSigned(c, digits)}${ci ? ` (${writeSigned(ci[0], digits)} to ${writeSigned(ci[1], digits)})` : ''}`;
  return [
    `**${name}${load ? `, ${load}` : ''}, device by device / ${unit}**`,
    [
      `| Device | ${asMarkdownCell(before)} | ${asMarkdownCell(after)} | Change, 95 % over all devices |`,
      '| --- | ---: | ---: | ---: |',
      ...cells.map((c) => `| ${asMarkdownCell(c.device)} | ${figure(c.before)} | ${figure(c.after)} | ${change(c)} |`),
    ].join('\n'),
    ...sentences,
  ];
}
