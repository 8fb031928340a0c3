/** What a spreadsheet takes at most in a cell. */
const MOST_CHARACTERS = 32_767;

/** A text as a cell of a workbook takes it: without control characters, which its format has no way to write, and no longer than it may be. */
export function printable(text: string): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must not be in it
  const plain = text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, ' ');
  return plain.length > MOST_CHARACTERS ? `${plain.slice(0, MOST_CHARACTERS - 1)}…` : plain;
}
