import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { NewSetupChoice, type SetupChoice } from '#features/ranking/model/setupChoice';
import { countSetupChoices, deleteSetupChoice, insertSetupChoice, MOST_CHOICES } from '#features/ranking/store/setupChoices';
import { check } from '#rules/validation';
import { gatherEvidence } from './evidence';

/** Merges set-ups, or parts places from the rest of theirs. */
export async function changeSetups(given: Record<string, unknown>): Promise<SetupChoice> {
  const { kind, places: named, reason, who = '' } = check(NewSetupChoice, given);
  const places = [...new Set(named)];
  if (reason.trim() === '') throw new Refusal('Give the reason in 1 to 400 characters.', 400, { field: 'reason' });
  const { setups } = await gatherEvidence({ reference: null, lots: 'apart', labs: 'all', years: null });
  const known = new Map(setups.flatMap((s) => s.places.map((p) => [p.key, s])));
  if (places.some((p) => !known.has(p)))
    throw new Refusal('One of the set-ups has changed meanwhile or is gone. Reload the page and choose again.', 409);
  const touched = new Set(places.map((p) => known.get(p)));
  if (kind === 'together') {
    if (touched.size < 2) throw new Refusal('They are one set-up already; choose two or more.', 409);
    if (new Set([...touched].map((s) => s?.lab)).size > 1)
      throw new Refusal(
        'Set-ups of different labs are never the same: their thermometers and hands differ. Compare them under Between labs.',
        409,
      );
  } else if (touched.size !== 1 || places.length === [...touched][0]?.places.length)
    throw new Refusal('Choose some, but not all, of the places of one set-up.', 409);
  return transaction(async (client) => {
    if ((await countSetupChoices(client)) >= MOST_CHOICES)
      throw new Refusal(`Up to ${MOST_CHOICES} merged or split set-ups are kept. Undo some of them first.`, 409);
    return insertSetupChoice(client, { kind, places, reason: reason.trim(), who });
  });
}

/** Takes back what was said of set-ups. */
export async function undoSetups(id: number): Promise<{ undone: boolean }> {
  if (!(await deleteSetupChoice(database(), id))) throw new Refusal('That was undone already.', 404);
  return { undone: true };
}
