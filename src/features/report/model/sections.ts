import { ListOf, OneOf, Text, YesNo } from '#rules/rules';
import { REPORT_SECTION_KEYS, type ReportSectionKey } from './reportSections';

export { REPORT_SECTIONS, type ReportSectionKey } from './reportSections';

/** A section of a report: whether it is shown, and the tester's words above it. */
class DraftSection {
  @OneOf(REPORT_SECTION_KEYS, `A section is one of ${REPORT_SECTION_KEYS.join(', ')}.`)
  key!: ReportSectionKey;

  @YesNo('A section is shown or not.')
  shown!: boolean;

  @Text(0, 6000, 'The words of a section hold up to 6,000 characters.')
  words!: string;
}

/** How a report is put together. */
export class ReportDraft {
  @ListOf(
    () => DraftSection,
    REPORT_SECTION_KEYS.length,
    'The sections are a list, each once, with its key, whether it is shown, and words.',
  )
  sections!: DraftSection[];
}

/** A published version that is withdrawn, or stood by again. */
export class Withdrawal {
  @YesNo('Say whether the version is withdrawn.')
  withdrawn!: boolean;

  @Text(0, 500, 'A reason holds up to 500 characters.')
  reason = '';

  @Text(0, 20, 'Initials hold up to 20 characters.')
  who = '';
}
