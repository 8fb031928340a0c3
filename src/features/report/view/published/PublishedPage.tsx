import { OUTCOMES } from '#core/compare/outcomes';
import { citation, embeddedJson, metadata, type PublishedReport } from '#features/report/model/published';
import { ReportArticle, type ReportFigures } from '#features/report/view/ReportArticle.tsx';
import { VersionNotes } from '#features/report/view/VersionNotes.tsx';
import { DriftFigure } from './DriftFigure.tsx';
import { FigureTable } from './FigureTable.tsx';
import { LadderFigure, ladderNote } from './LadderFigure.tsx';
import { PartForm } from './PartForm.tsx';

/** Nothing is asked for from anywhere, whatever stands in a text, and nothing runs but the calculator. */
const policy = (scriptHash: string) =>
  `default-src 'none'; script-src 'sha256-${scriptHash}'; style-src 'unsafe-inline'; font-src data:; img-src data:; base-uri 'none'; form-action 'none'`;

const FIGURES: ReportFigures = {
  ladder(content) {
    const { answer, confidence } = content;
    const { unit } = answer.scale ?? OUTCOMES[answer.choice.outcome];
    const percent = `${Number((100 * confidence).toFixed(1))} %`;
    const columns = ['Specimen', `Mean / ${unit}`, `Low ${percent} / ${unit}`, `High ${percent} / ${unit}`, 'Group', `Mounts / ${unit}`];
    const rows = answer.rungs.map((s) => [
      ...[s.name, s.mean, s.ci?.[0] ?? null, s.ci?.[1] ?? null, s.group],
      s.mounts.flatMap((m) => (m.value === null ? [] : Number(m.value.toPrecision(5)))).join(', '),
    ]);
    return (
      <FigureTable title={`Ladder: ${content.title}`} note={ladderNote(content)} columns={columns} rows={rows}>
        <div className="max-sm:hidden print:block">
          <LadderFigure content={content} width={928} id="ladder" />
        </div>
        <div className="sm:hidden print:hidden">
          <LadderFigure content={content} width={360} id="ladder-narrow" />
        </div>
      </FigureTable>
    );
  },
  drift({ answer }, drift) {
    const { unit, digits } = OUTCOMES[answer.choice.outcome];
    return (
      <FigureTable
        title={`${drift.reference} over the days`}
        note={`Band: control limits (2.66 mean moving ranges). ${drift.sentence}`}
        columns={['Mount', 'Day', `Value / ${unit}`]}
        rows={drift.points.map((p) => [p.mount, p.day ?? '', p.value])}
      >
        <DriftFigure drift={drift} unit={unit} digits={digits} />
      </FigureTable>
    );
  },
  part: (part) => <PartForm part={part} />,
};

interface PublishedPageProps {
  report: PublishedReport;
  style: string;
  script: string;
  /** SHA-256 of the script, base64 */
  scriptHash: string;
}

/** A published version as one page that stands by itself. */
export function PublishedPage({ report, style, script, scriptHash }: PublishedPageProps) {
  const { content, number, sha256, author, frozen_at, changes, withdrawn } = report;
  return (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta httpEquiv="Content-Security-Policy" content={policy(scriptHash)} />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta name="referrer" content="no-referrer" />
        <title>{`${content.title}, version ${number}`}</title>
        {author !== '' && <meta name="author" content={author} />}
        {content.question !== '' && <meta name="description" content={content.question} />}
        <link rel="icon" href="data:," />
        <script
          type="application/ld+json"
          // biome-ignore lint/security/noDangerouslySetInnerHtml: every sign that could end it is escaped
          dangerouslySetInnerHTML={{ __html: embeddedJson(metadata(report)) }}
        />
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: the application's own style sheet */}
        <style dangerouslySetInnerHTML={{ __html: style }} />
      </head>
      <body>
        <main className="px-4 pt-8 pb-16">
          {withdrawn && (
            <p role="alert" className="mx-auto mb-6 max-w-[58rem] border-4 border-ember px-4 py-3 text-name">
              <strong>{`Withdrawn on ${withdrawn.at.slice(0, 10)}${withdrawn.by && ` by ${withdrawn.by}`}:`}</strong> {withdrawn.reason}
            </p>
          )}
          <ReportArticle content={content} author={author} figures={FIGURES} />
          <footer className="mx-auto mt-10 max-w-[58rem] border-t border-rule pt-3 text-note">
            <h2 className="font-semibold">To cite it</h2>
            <p className="break-words">{citation(report)}</p>
            <div className="mt-2">
              <VersionNotes {...{ number, frozen_at, sha256, changes }} by={author} />
            </div>
          </footer>
        </main>
        {content.part && script !== '' && content.sections.some((s) => s.key === 'part') && (
          // biome-ignore lint/security/noDangerouslySetInnerHtml: the application's own script, which the policy names by its hash
          <script dangerouslySetInnerHTML={{ __html: script }} />
        )}
      </body>
    </html>
  );
}
