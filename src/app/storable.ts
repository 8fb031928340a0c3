import { Refusal } from './refusal';

/** Nested deeper than this nothing is that the application sends. */
const MOST_DEPTH = 50;

/** Refuses a text that the store cannot hold: one with a NUL in it, or with half of a character. */
export function storableText(text: string): string {
  if (text.includes('\0')) throw new Refusal('A text of the request holds a NUL character, which no text has. Nothing was saved.');
  if (/\p{Surrogate}/u.test(text)) throw new Refusal('A text of the request holds half of a character. Nothing was saved.');
  return text;
}

/** Refuses what was sent as JSON where the store could not hold a text of it, or where it is nested without end. */
export function storable<T>(value: T): T {
  const open: [value: unknown, depth: number][] = [[value, 1]];
  for (let next = open.pop(); next; next = open.pop()) {
    const [part, depth] = next;
    if (typeof part === 'string') storableText(part);
    if (typeof part !== 'object' || part === null) continue;
    if (depth > MOST_DEPTH) throw new Refusal(`The request is nested more than ${MOST_DEPTH} levels deep.`);
    for (const [key, inner] of Object.entries(part)) {
      storableText(key);
      open.push([inner, depth + 1]);
    }
  }
  return value;
}
