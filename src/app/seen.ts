import { isDeepStrictEqual } from 'node:util';
import { Refusal } from './refusal';

/**
 * Refuses to replace what somebody else changed since it was looked at: nothing is overwritten, and theirs is given back, to be shown beside
 * one's own and to be replaced knowingly. A program that does not say what it saw replaces what is there.
 * @param given what was sent; `seen` is what stood there when the sender looked
 * @param theirs what stands there now, as it would be seen
 * @param sentence what somebody else did, and that nothing was overwritten
 * @throws Refusal 409 with `theirs`
 */
export function refuseUnseen(given: Record<string, unknown>, theirs: unknown, sentence: string): void {
  if (given.seen === undefined || isDeepStrictEqual(given.seen, JSON.parse(JSON.stringify(theirs)))) return;
  throw new Refusal(`${sentence} Nothing was overwritten; do it again to replace theirs.`, 409, { theirs });
}
