/** A count with what is counted, as in "1 mount" and "3 mounts". */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** Things in a row, as in "A", "A and B", "A, B and C". */
export function list(items: (string | number)[]): string {
  return items.length < 2 ? String(items[0] ?? '') : `${items.slice(0, -1).join(', ')} and ${items.at(-1)}`;
}

/** What Markdown would take for its own signs in a name or a sentence. */
export function asMarkdown(text: string): string {
  return text.replaceAll('<', '&lt;');
}

/** A cell of a Markdown table. */
export function asMarkdownCell(text: string): string {
  return asMarkdown(text).replaceAll('|', '\\|').replaceAll('\n', ' ');
}
