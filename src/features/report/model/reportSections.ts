/** Sections of a report in their usual order, with their headings. */
export const REPORT_SECTIONS = {
  question: 'The question',
  answer: 'The answer',
  recommendation: 'Recommendation',
  before_after: 'Before and after',
  verdicts: 'Verdicts',
  limits: 'Parts and their limits',
  pairs: 'All pairs',
  mounts: 'Every mount',
  worth: 'Price and effort',
  part: 'On your part',
  scatter: 'Scatter',
  drift: 'The reference over the days',
  held: 'Controlled conditions',
  uncertainty: 'Uncertainty',
  findings: 'Findings and what was left out',
  method: 'Method as used',
} as const;

export type ReportSectionKey = keyof typeof REPORT_SECTIONS;
export const REPORT_SECTION_KEYS = Object.keys(REPORT_SECTIONS) as ReportSectionKey[];

export interface SectionDraft {
  key: ReportSectionKey;
  shown: boolean;
  words: string;
}

/** The sections of a draft with those it does not name behind them, each once. */
export function completeSections(given: SectionDraft[]): SectionDraft[] {
  const known = given.filter((s, i) => REPORT_SECTION_KEYS.includes(s.key) && given.findIndex((o) => o.key === s.key) === i);
  const missing = REPORT_SECTION_KEYS.filter((key) => !known.some((s) => s.key === key));
  return [...known, ...missing.map((key) => ({ key, shown: true, words: '' }))];
}
