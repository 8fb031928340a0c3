import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { closeNotice } from '#features/study/store/notices';

/** Closes a notice of an upgrade, once somebody has read it. */
export async function dismissNotice(id: number): Promise<{ closed: true }> {
  if (!(await closeNotice(database(), id))) throw new Refusal('That notice is closed already.', 404);
  return { closed: true };
}
