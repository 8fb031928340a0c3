import { createHash } from 'node:crypto';
import { renderToStaticMarkup } from 'react-dom/server';
import { OUTCOMES } from '#core/compare/outcomes';
import type { PublishedReport } from '#features/report/model/published';
import type { PublishedAssets } from '#features/report/server/publishedAssets';
import { DriftFigure } from './DriftFigure.tsx';
import { LadderFigure } from './LadderFigure.tsx';
import { PublishedPage } from './PublishedPage.tsx';

/** Colours of a drawing that lies on a page of others, light and dark; as in global.css. */
const COLOURS = `svg{--paper:#f3efe6;--ink:#24262b;--soft:#5a564d;--rule:#24262b2b;--ember:#ab370e;--band:#24262b14;--cool:#0e6668;--bone:#d9cdb0;--hot:#b83c12;--font-sans:Archivo,system-ui,sans-serif;--font-figure:ui-monospace,monospace}@media (prefers-color-scheme:dark){svg{--paper:#1a1b1f;--ink:#ece6d9;--soft:#b4ad9f;--rule:#ece6d92e;--ember:#ff8f61;--band:#ece6d91f;--cool:#2f9c9c;--bone:#8d846f;--hot:#e06a38}}`;

/** A drawing as a file of its own. */
const alone = (markup: string, width: number, height: number): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n${markup.replace('width="100%"', `width="${width}" height="${height}"`).replace(/(<svg[^>]*>)/, `$1<style>${COLOURS}</style>`)}\n`;

const sizeOf = (markup: string): [number, number] => {
  const [, width, height] = /viewBox="0 0 (\d+) ([\d.]+)"/.exec(markup) ?? [];
  return [Number(width), Number(height)];
};

/**
 * The page of a published version: one file that opens anywhere, with no request.
 * @param assets style with its fonts inside and the script of the calculator, as `report/server/publishedAssets` gives them
 */
export const renderPage = (report: PublishedReport, assets: PublishedAssets): string =>
  `<!doctype html>\n${renderToStaticMarkup(<PublishedPage report={report} {...assets} scriptHash={hashOf(assets.script)} />)}\n`;

/** As a policy names what may run. */
const hashOf = (script: string): string => createHash('sha256').update(script).digest('base64');

/** The drawings of a published version as SVG files by their names; text stays text. */
export function renderFigures({ content }: Pick<PublishedReport, 'content'>): Record<string, string> {
  const { answer, drift } = content;
  const { unit, digits } = OUTCOMES[answer.choice.outcome];
  const drawn = (element: React.ReactElement): string => {
    const markup = renderToStaticMarkup(element);
    return alone(markup, ...sizeOf(markup));
  };
  return {
    ...(answer.analysis ? { 'ladder.svg': drawn(<LadderFigure content={content} width={928} id="ladder" />) } : {}),
    ...(drift && drift.points.length > 2 ? { 'drift.svg': drawn(<DriftFigure drift={drift} unit={unit} digits={digits} />) } : {}),
  };
}

/** A drawing as a page for an iframe: nothing around it, as high as it is. */
export const renderFramed = (title: string, svg: string): string =>
  `<!doctype html>\n<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title><link rel="icon" href="data:,"><style>html{color-scheme:light dark}body{margin:0}svg{display:block;width:100%;height:auto}</style></head><body>${svg.replace(/^<\?xml[^>]*>\n/, '')}</body></html>\n`;

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/** A published version as the files beside its content: its page and its drawings, by the ends of their names. */
export const renderFiles = (report: PublishedReport, assets: PublishedAssets): Record<string, string> => ({
  '.html': renderPage(report, assets),
  ...Object.fromEntries(Object.entries(renderFigures(report)).map(([name, svg]) => [`-${name}`, svg])),
});
