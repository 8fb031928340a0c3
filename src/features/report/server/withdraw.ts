import { insertChange } from '#app/database/changes';
import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { Withdrawal } from '#features/report/model/sections';
import { setWithdrawn } from '#features/report/store/reports';
import { check } from '#rules/validation';
import { frozenReport } from './freeze';

/**
 * Withdraws a published version, or stands by it again. Its content and checksum stay as they are; whoever opens it reads that it was
 * withdrawn, and why.
 */
export async function withdrawReport(address: string, given: Record<string, unknown>): Promise<{ withdrawn: boolean }> {
  const { withdrawn, reason, who } = check(Withdrawal, given);
  const why = reason.trim();
  if (withdrawn && why === '') throw new Refusal('Give a reason for the withdrawal; readers see it.', 400, { field: 'reason' });
  const { row } = await frozenReport(address);
  await transaction(async (client) => {
    if (!(await setWithdrawn(client, row.id, withdrawn, why, who)))
      throw new Refusal(withdrawn ? 'This version is already withdrawn.' : 'This version is not withdrawn.', 409);
    await insertChange(client, {
      ...{ subject: 'report', subject_id: row.id, action: withdrawn ? 'withdraw' : 'stand by', who, reason: why },
      before: { withdrawn: !withdrawn },
      after: { withdrawn },
    });
  });
  return { withdrawn };
}
