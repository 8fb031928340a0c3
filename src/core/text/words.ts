/**
 * Numbers as a tester writes them: a true minus sign, fixed honest digits, no negative zero.
 * @example write(-0.04, 1) // '0.0', and write(-3.25, 1) // '−3.3'
 */
export function write(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  return value < 0 && Number(text) !== 0 ? `−${text}` : text;
}

/** A value with its sign spelled out, as in "+1.9". */
export function writeSigned(value: number, digits: number): string {
  const text = write(value, digits);
  return value > 0 && Number(text) !== 0 ? `+${text}` : text;
}

/** Digits behind the point that show a spread with two figures. */
export const digitsOfSpread = (spread: number, least = 0): number =>
  Math.max(least, Math.min(6, 1 - Math.floor(Math.log10(spread || 0.1))));

/** A margin without needless zeros: 1, 0.5, 0.007. */
export const writeMargin = (value: number): string => String(Number(value.toPrecision(2)));

/** A count with what is counted, as in "1 mount" and "3 mounts". */
export const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

/** Things in a row, as in "A", "A and B", "A, B and C". */
export const list = (items: (string | number)[]): string =>
  items.length < 2 ? String(items[0] ?? '') : `${items.slice(0, -1).join(', ')} and ${items.at(-1)}`;

/** Words as they begin a sentence. */
export const sentenceCase = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A name within a sentence: "Fan speed" becomes "fan speed"; a sign such as ΔT stays. */
export const midSentence = (name: string): string => (/^\p{Lu}\p{Lu}/u.test(name) ? name : name.charAt(0).toLowerCase() + name.slice(1));

/** What Markdown would take for its own signs in a name or a sentence. */
export const asMarkdown = (text: string): string =>
  text
    .replaceAll('<', '&lt;')
    .replace(/[[\]]/g, '\\$&')
    // what would be made a link by itself
    .replace(/\b(https?|ftp|mailto|xmpp)(?=:)/gi, '$1\\')
    .replace(/\bwww(?=\.)/gi, 'www\\')
    .replace(/(?<=[\w.+-])@(?=[\w-]+\.)/g, '\\@');

/** A cell of a Markdown table. */
export const asMarkdownCell = (text: string): string => asMarkdown(text).replaceAll('|', '\\|').replaceAll('\n', ' ');

/** Keeps a figure and its unit on one line, and a size of two figures. */
export const keepUnits = (text: string): string =>
  text.replace(/(\d) (K\b|K\/W|W\b|rpm|MHz|dB|%|s\b|mm)/g, '$1\u00a0$2').replace(/(\d) × (?=\d)/g, '$1\u00a0×\u00a0');
