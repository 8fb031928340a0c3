import { Refusal } from '#app/refusal';

/** Initials as they were sent; none is an empty text. */
export function readWho(who: unknown): string {
  if (who === undefined || who === null) return '';
  if (typeof who !== 'string' || who.length > 20) throw new Refusal('Initials hold up to 20 characters.');
  return who.trim();
}
