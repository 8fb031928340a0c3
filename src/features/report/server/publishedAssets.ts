import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { Refusal } from '#app/refusal';

const FOLDER = path.join(process.cwd(), 'dist', 'client', '_astro');

/** Fonts by what they write: those beyond the first are needed only where such letters stand. */
const BEYOND_LATIN: [needle: string, letters: RegExp][] = [
  ['-latin-ext-', /[\u0100-\u02ba\u1e00-\u1eff\u2113\u2c60-\u2c7f\ua720-\ua7ff]/],
  ['-vietnamese-', /[\u0102\u0103\u0110\u0111\u0128\u0129\u01a0\u01a1\u01af\u01b0\u1ea0-\u1ef9\u20ab]/],
];

/** On paper a little smaller than on a screen, as books are. */
const PAPER = '@media print{html{font-size:13.5px}}';

const SCRIPT = path.join(process.cwd(), 'build', 'part-calculator.mjs');

let sheet: Promise<string> | null = null;

/** What a published page carries inside: its style sheet with fonts, and the script of its calculator. */
export interface PublishedAssets {
  style: string;
  script: string;
}

/**
 * Style and script of a published page.
 * @param text all that the page says
 */
export const publishedAssets = async (text: string): Promise<PublishedAssets> => ({
  style: await publishedStyle(text),
  // a line break at its end would be another script to a policy by hashes
  script: (await readFile(SCRIPT, 'utf8').catch(() => '')).trim(),
});

/**
 * The application's style sheet as a page of its own needs it: with the fonts that a text is written in inside, and dark where the reader's
 * system is.
 * @param text all that the page says
 */
async function publishedStyle(text: string): Promise<string> {
  sheet ??= ownSheet().catch((error) => {
    sheet = null;
    throw error;
  });
  const whole = await sheet;
  const faces = whole.match(/@font-face\{[^}]*\}/g) ?? [];
  let style = whole;
  for (const face of faces) {
    const [, file] = /url\(\/_astro\/([\w.-]+\.woff2)\)/.exec(face) ?? [];
    const isWritten = file && BEYOND_LATIN.every(([needle, letters]) => !file.includes(needle) || letters.test(text));
    style = style.replace(face, isWritten ? await withFont(face, file) : '');
  }
  return style;
}

/** The built style sheet that all pages share. */
async function ownSheet(): Promise<string> {
  const names = (await readdir(FOLDER).catch(() => [])).filter((n) => n.endsWith('.css'));
  for (const name of names) {
    const css = await readFile(path.join(FOLDER, name), 'utf8');
    if (css.includes('@font-face') && css.includes('--paper:')) return withDark(css);
  }
  throw new Refusal('Published pages are drawn by the built application alone; start it with ./warm-gauge start.', 501);
}

/** Dark where the reader's system asks for it: a page without a script has no switch. */
function withDark(css: string): string {
  const dark = /:root\[data-theme=["']?dark["']?\]\{([^}]*)\}/.exec(css);
  return `${css}${PAPER}${dark ? `@media screen and (prefers-color-scheme:dark){:root{${dark[1]}}}` : ''}`;
}

async function withFont(face: string, file: string): Promise<string> {
  const bytes = await readFile(path.join(FOLDER, file));
  return face.replace(/src:[^;}]*/, `src:url(data:font/woff2;base64,${bytes.toString('base64')}) format("woff2")`);
}
