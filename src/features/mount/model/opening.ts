/** What an interface may look like when a mount is opened again. */
export const FOUND = {
  as_made: 'As it was made',
  dry: 'Dry',
  pumped_out: 'Pumped out',
  leaked: 'Leaked',
  corroded: 'Corroded',
  shifted: 'Shifted',
} as const;
export type Found = keyof typeof FOUND;

/** What was found, in words: "pumped out and dry". */
export function foundWords(found: Found[]): string {
  const words = found.map((f) => FOUND[f].toLowerCase());
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}`;
}

/** What is wrong with a record of an opening, as a sentence; null where nothing is. */
export function openingProblem(found: unknown, note: unknown): string | null {
  if (!Array.isArray(found) || found.length === 0 || found.some((f) => typeof f !== 'string' || !Object.hasOwn(FOUND, f)))
    return `Say what was found: ${Object.values(FOUND).join(', ').toLowerCase()}.`;
  if (new Set(found).size !== found.length) return 'Each finding is listed once.';
  if (found.includes('as_made') && found.length > 1) return 'It is either as it was made, or something was found.';
  if (typeof note === 'string' && note.length > 500) return 'A note holds up to 500 characters.';
  return null;
}
