import type { ReactNode } from 'react';
import { OUTCOMES } from '#core/compare/outcomes';
import { keepUnits } from '#core/text/words';
import type { PartCalculator } from '#features/ranking/model/partCalculator';
import { OnYourPart } from '#features/ranking/view/OnYourPart.tsx';
import { PartPairs } from '#features/ranking/view/PartPairs.tsx';
import type { ReportContent } from '#features/report/model/content';
import { REPORT_SECTIONS, type ReportSectionKey } from '#features/report/model/reportSections';
import { intervalsWords, mainPairs, otherPairs } from '#features/results/model/pairs';
import { BeforeAfterTable } from '#features/results/view/BeforeAfterTable.tsx';
import { BudgetTable } from '#features/results/view/BudgetTable.tsx';
import { DriftChart } from '#features/results/view/DriftChart.tsx';
import { AnswerLadder, Headline, Unplaced } from '#features/results/view/Ladder.tsx';
import { LadderTable } from '#features/results/view/LadderTable.tsx';
import { mountWords } from '#features/results/view/mountWords';
import { PairMatrix } from '#features/results/view/PairMatrix.tsx';
import { PartRoomsTable } from '#features/results/view/PartRoomsTable.tsx';
import { ScatterFigures } from '#features/results/view/ScatterFigures.tsx';
import { WorthTable } from '#features/results/view/WorthTable.tsx';
import { findingName } from '#ui/FindingList.tsx';
import { SpecimenName } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { Sentences } from '#ui/Words.tsx';

/** The drawings of a report; those of the application answer to hands, those of a published page stand by themselves. */
export interface ReportFigures {
  ladder: (content: ReportContent) => ReactNode;
  drift: (content: ReportContent, drift: NonNullable<ReportContent['drift']>) => ReactNode;
  part: (part: PartCalculator) => ReactNode;
}

const LIVE_FIGURES: ReportFigures = {
  ladder: ({ title, reference, confidence, answer }) => <AnswerLadder {...{ title, reference, confidence, answer }} />,
  drift: ({ answer }, drift) => {
    const { unit, digits } = OUTCOMES[answer.choice.outcome];
    return <DriftChart drift={drift} unit={unit} digits={digits} />;
  },
  part: (part) => <OnYourPart part={part} />,
};

interface ReportArticleProps {
  content: ReportContent;
  author?: string;
  figures?: ReportFigures;
}

/** A report as an article, for screen and paper alike. It is drawn from its content alone. */
export const ReportArticle = ({ content, author = '', figures = LIVE_FIGURES }: ReportArticleProps) => (
  <article className="report mx-auto w-full min-w-0 max-w-[58rem]">
    <header>
      <h1 className="text-[2.6rem] leading-[1.08] font-bold tracking-tight">{content.title}</h1>
      {author !== '' && <p className="mt-2 text-name">{author}</p>}
      <p className="mt-2 text-soft">
        Assembled on {content.made_at.slice(0, 10)} · {content.runs.length} runs on {content.mounts.length} mounts of{' '}
        {content.specimens.length} specimens
      </p>
    </header>
    {content.sections.map(({ key, words }) => {
      const body = bodyOf(content, key, figures);
      if (!body && words === '') return null;
      return (
        <section key={key} className="mt-9" aria-labelledby={`section-${key}`}>
          <h2 id={`section-${key}`} className="border-t-[3px] border-ink pt-2 text-title font-semibold">
            {REPORT_SECTIONS[key]}
          </h2>
          {words !== '' && <div className="mt-2 max-w-[44rem] text-[1.0625rem] whitespace-pre-line">{words}</div>}
          {body && <div className="mt-3">{body}</div>}
        </section>
      );
    })}
  </article>
);

function bodyOf(content: ReportContent, key: ReportSectionKey, figures: ReportFigures): ReactNode {
  const { answer } = content;
  const { analysis, choice } = answer;
  switch (key) {
    case 'question':
      return content.question ? <p className="max-w-[44rem] text-name">{content.question}</p> : null;
    case 'answer':
      return analysis && <Answer content={content} figures={figures} />;
    case 'recommendation':
      return content.recommendations.length === 0 ? null : <Recommendations list={content.recommendations} />;
    case 'before_after':
      return content.before_after.length === 0 ? null : <BeforeAfterTable states={content.before_after} />;
    case 'verdicts':
      return analysis && analysis.pairs.length > 0 ? (
        <>
          <p className="text-soft">
            {intervalsWords(analysis.pairs.length, content.confidence)} The smallest difference that matters is{' '}
            {Number(answer.margin.toPrecision(2))} {OUTCOMES[choice.outcome].unit}.
          </p>
          <Sentences className="mt-2 max-w-[48rem]" list={[...mainPairs(answer).map((p) => p.sentence), ...(answer.ranks ?? [])]} />
          {content.interactions.length > 0 && (
            <Sentences className="mt-2 max-w-[48rem]" list={content.interactions.map((i) => i.sentence)} />
          )}
        </>
      ) : null;
    case 'limits':
      return content.part_rooms || content.limits_unread ? (
        <>
          {content.limits_unread && <p className="mb-2">{content.limits_unread}</p>}
          {content.part_rooms && <PartRoomsTable rooms={content.part_rooms} />}
        </>
      ) : null;
    case 'pairs':
      return analysis && analysis.pairs.length > 1 ? (
        <>
          {answer.rungs.length <= 16 && <PairMatrix rungs={answer.rungs} pairs={analysis.pairs} outcome={choice.outcome} />}
          <Sentences className="mt-2 max-w-[48rem]" list={otherPairs(answer).map((p) => p.sentence)} />
        </>
      ) : null;
    case 'mounts':
      return (
        <>
          <Mounts content={content} />
          {(content.ladders ?? []).map((t) => (
            <LadderTable key={t.load} table={t} specimens={content.specimens} />
          ))}
        </>
      );
    case 'worth':
      return content.worth.length > 1 ? (
        <WorthTable worth={content.worth} currency={content.currency} reference={content.reference} {...content.worth_by} />
      ) : null;
    case 'part':
      return content.part ? (
        <>
          {figures.part(content.part)}
          <PartPairs part={content.part} reference={content.reference} />
        </>
      ) : null;
    case 'scatter':
      return (
        analysis && (
          <div className="grid gap-x-10 sm:grid-cols-2">
            <ScatterFigures analysis={analysis} />
            <div className="mt-2">
              {[content.look, answer.school, answer.leaning]
                .filter((s) => s !== '')
                .map((s) => (
                  <p key={s} className="mb-2">
                    {s}
                  </p>
                ))}
            </div>
          </div>
        )
      );
    case 'drift':
      return content.drift && content.drift.points.length > 2 ? figures.drift(content, content.drift) : null;
    case 'held':
      return content.held.length === 0 ? null : (
        <Rows
          rows={content.held.map((h) => [h.what, [h.value, h.tolerance].filter((v) => v !== '').join(', ')])}
          label="Controlled conditions"
        />
      );
    case 'uncertainty':
      return content.budget && <BudgetTable budget={content.budget} />;
    case 'findings':
      return <Findings content={content} />;
    case 'method':
      return <Rows rows={content.method.map((m) => [m.what, m.value])} label="Method as used" />;
  }
}

function Answer({ content, figures }: { content: ReportContent; figures: ReportFigures }) {
  const { answer } = content;
  return (
    <>
      <p className="text-verdict leading-[1.15] font-semibold">
        <Headline headline={answer.headline} />
      </p>
      {figures.ladder(content)}
      <Unplaced unplaced={answer.unplaced} />
    </>
  );
}

const Recommendations = ({ list }: { list: ReportContent['recommendations'] }) => (
  <dl className="max-w-[44rem]">
    {list.map((r) => (
      <div key={r.reader} className="border-b border-rule py-2">
        <dt className="font-semibold">{r.reader}</dt>
        <dd className="text-[1.0625rem] whitespace-pre-line">{r.words}</dd>
        {r.checks.length > 0 && (
          <dd className="mt-1 text-note text-soft">
            Rests on: {r.checks.map((c) => c.sentence).join(' ')}
            {r.checks.some((c) => c.state === 'changed' || c.state === 'gone') && (
              <strong className="text-ember"> A verdict has changed since these words were written.</strong>
            )}
          </dd>
        )}
      </div>
    ))}
  </dl>
);

const Rows = ({ rows, label }: { rows: string[][]; label: string }) => (
  <table className="w-full max-w-[48rem]" aria-label={label}>
    <tbody>
      {rows.map(([what, value]) => (
        <tr key={what} className="border-b border-rule align-baseline">
          <th scope="row" className="w-1/2 py-1 pr-4 font-normal text-soft">
            {what}
          </th>
          <td className="py-1">{value}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

/** Every mount of every specimen, with the failed applications counted. */
function Mounts({ content }: { content: ReportContent }) {
  const { digits } = OUTCOMES[content.answer.choice.outcome];
  // a version frozen before scales were kept stands on the outcome's own
  const { unit, name } = content.answer.scale ?? OUTCOMES[content.answer.choice.outcome];
  return (
    <Table
      label="Every mount"
      caption={`${name} of each mount, ${unit}: the mean of its valid runs.`}
      rows={content.specimens}
      keyOf={(s) => s.name}
      columns={[
        { head: 'Specimen', names: true, cell: (s) => <SpecimenName name={s.name} position={s.position} /> },
        {
          head: 'Mounts',
          className: 'figure text-note',
          cell: (s) =>
            content.mounts
              .filter((m) => m.specimen === s.name)
              .map((m) => `${m.mount}: ${mountWords(m, digits + 1)}${m.excluded_reason ? ' (left out)' : ''}`)
              .join(' · '),
        },
        {
          head: 'Failed applications',
          figure: true,
          className: 'text-note',
          cell: (s) => (s.tries === 0 ? '–' : `${s.failed} of ${s.tries}`),
        },
      ]}
    />
  );
}

function Findings({ content }: { content: ReportContent }) {
  const { comparison, mounts, runs, left_out } = content.findings;
  const restored = content.answer.restored;
  return (
    <div className="flex max-w-[48rem] flex-col gap-4">
      <Group title="Of the comparison" items={comparison.map((f) => `${findingName(f.code)}. ${f.message}`)} />
      <Group
        title="Left out by hand"
        items={left_out.map(
          (l) => `${l.specimen}, mount ${l.mount}${l.run === null ? '' : `, run ${l.run}`}: ${l.reason}${l.who ? ` (${l.who})` : ''}`,
        )}
      />
      {restored && (
        <Group
          title="With it included again"
          items={
            restored.length === 0
              ? ['No verdict would change.']
              : restored.map((c) => `${c.before ?? 'Not judged.'} It would read: ${c.after ?? 'not judged.'}`)
          }
        />
      )}
      <Group
        title="Of the runs"
        items={runs.map((r) => `${r.specimen}, mount ${r.mount}, run ${r.run}: ${findingName(r.code).toLowerCase()}. ${r.message}`)}
      />
      <Group title="Of how the mounts were made" items={mounts.map((m) => `${m.specimen}, mount ${m.mount}: ${m.message}`)} />
      {comparison.length + left_out.length + runs.length + mounts.length === 0 && (
        <p>No check found a problem, and nothing was left out.</p>
      )}
    </div>
  );
}

function Group({ title, items }: { title: string; items: string[] }) {
  if (items.length === 0) return null;
  return (
    <div>
      <h3 className="font-semibold">{title}</h3>
      <ul className="list-disc pl-5">
        {items.map((s) => (
          <li key={s} className="py-0.5">
            {keepUnits(s)}
          </li>
        ))}
      </ul>
    </div>
  );
}
