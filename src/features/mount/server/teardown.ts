import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { photographOf } from '#features/mount/store/photographs';
import { Teardown, type TeardownStep } from '#features/shelf/model/teardown';
import { getTeardown, updateTeardown } from '#features/shelf/store/rigs';
import { check } from '#rules/validation';

export interface TeardownView {
  rig: { id: number; name: string };
  version: number;
  steps: TeardownStep[];
}

/** How a rig is taken apart. */
export async function teardownView(rigId: number): Promise<TeardownView> {
  const row = await getTeardown(database(), rigId);
  if (!row) throw new Refusal(`There is no rig ${rigId}.`, 404);
  return { rig: { id: row.id, name: row.name }, version: row.teardown_version, steps: row.teardown };
}

/** Stores a rig's list as a whole; refused where someone else changed it in between. */
export async function saveTeardown(rigId: number, given: Record<string, unknown>): Promise<TeardownView> {
  const { base, steps } = check(Teardown, given);
  await transaction(async (client) => {
    if (!(await getTeardown(client, rigId))) throw new Refusal(`There is no rig ${rigId}.`, 404);
    for (const [i, s] of steps.entries()) {
      if (s.photograph != null && (await photographOf(client, s.photograph))?.rig_id !== rigId)
        throw new Refusal(`Step ${i + 1} names a photograph that is not of this rig.`);
    }
    if (!(await updateTeardown(client, rigId, base, steps))) {
      throw new Refusal(
        'Someone else changed this list in the meantime. What you entered is still here: load the page in a second window and merge both.',
        409,
      );
    }
  });
  return teardownView(rigId);
}
