/** A count with what is counted, as in "1 mount" and "3 mounts". */
export const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

/** Things in a row, as in "A", "A and B", "A, B and C". */
export const list = (items: (string | number)[]): string =>
  items.length < 2 ? String(items[0] ?? '') : `${items.slice(0, -1).join(', ')} and ${items.at(-1)}`;

/** What Markdown would take for its own signs in a name or a sentence. */
export const asMarkdown = (text: string): string => text.replaceAll('<', '&lt;');

/** A cell of a Markdown table. */
export const asMarkdownCell = (text: string): string => asMarkdown(text).replaceAll('|', '\\|').replaceAll('\n', ' ');
