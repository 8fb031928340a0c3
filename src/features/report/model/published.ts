import type { ReportContent } from './content';

/** A published version with what stands around its content on a page of its own. */
export interface PublishedReport {
  content: ReportContent;
  number: number;
  address: string;
  /** of its content */
  sha256: string;
  author: string;
  /** who measured; empty where that is not said */
  lab: string;
  /** ISO 8601 in UTC */
  frozen_at: string;
  changes: string[];
  withdrawn: { at: string; by: string; reason: string } | null;
}

/** Who stands for a version where it is cited: its author, else the lab. */
const citedName = ({ author, lab }: PublishedReport): string => author || lab;

/** How a version is cited: who, year, title, version, date and checksum. */
export function citation(report: PublishedReport): string {
  const { content, number, sha256, lab, author, frozen_at } = report;
  const who = citedName(report);
  const day = frozen_at.slice(0, 10);
  return [
    `${who ? `${who} ` : ''}(${day.slice(0, 4)}). ${content.title}, version ${number}.`,
    ...(author && lab ? [`${lab}.`] : []),
    `Published ${day}. SHA-256 ${sha256}.`,
  ].join(' ');
}

/** What programs read of a version (schema.org, JSON-LD). */
export const metadata = (report: PublishedReport): Record<string, unknown> => {
  const { content, number, sha256, lab, author, frozen_at } = report;
  return {
    '@context': 'https://schema.org',
    '@type': 'Report',
    name: content.title,
    ...(content.question ? { abstract: content.question } : {}),
    version: String(number),
    datePublished: frozen_at,
    ...(author ? { author: { '@type': 'Person', name: author } } : {}),
    ...(lab ? { publisher: { '@type': 'Organization', name: lab } } : {}),
    identifier: `sha256:${sha256}`,
    about: content.specimens.map((s) => s.name),
    ...(report.withdrawn ? { creativeWorkStatus: `Withdrawn: ${report.withdrawn.reason}` } : {}),
  };
};

/** JSON that may stand inside of a page, whatever is written in it. */
export const embeddedJson = (value: unknown): string =>
  JSON.stringify(value).replace(/[<>&\u2028\u2029]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);
