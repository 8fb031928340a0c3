import { insertAttempt, lockOpenAttempt, saveAttempt } from '#db/attempts';
import { transaction } from '#db/pool';
import { listMounts, listSpecimens } from '#db/studies';
import type { AttemptOutcome, StepStates } from '#domain/mount/attempt';

/** Tries that went wrong before the mount they belong to was ready. */
const FAILED: Record<string, { outcome: AttemptOutcome; reason: string }> = {
  'Slip Felt 0.5/2': { outcome: 'tilted', reason: 'Pad slid under one corner while the cooler was set down.' },
  'Bramble 5/3': { outcome: 'no_start', reason: 'One screw a turn too tight; card does not answer.' },
};

const PEOPLE = ['EB', 'TK'];

/** Writes down how the mounts of the half-done study were made: who, lot, tube before and after, torque, room. */
export async function writeAttempts(studyId: number): Promise<void> {
  await transaction(async (client) => {
    const names = new Map((await listSpecimens(client, studyId)).map((s) => [s.id, s]));
    let tube = 5200;
    for (const m of await listMounts(client, studyId)) {
      const specimen = names.get(m.specimen_id);
      if (!specimen) continue;
      const who = PEOPLE[m.number % 2];
      const paste = specimen.kind === 'paste';
      const used = 330 + 7 * ((3 * m.number + m.specimen_id) % 9);
      const end = async (outcome: AttemptOutcome, reason: string, steps: StepStates) => {
        await insertAttempt(client, m.id, who);
        const attempt = await lockOpenAttempt(client, m.id);
        if (attempt) await saveAttempt(client, { ...attempt, outcome, reason, steps, ended_at: new Date() });
      };
      const failed = FAILED[`${specimen.name}/${m.number}`];
      if (failed) await end(failed.outcome, failed.reason, {});
      await end('ready', '', {
        apply: {
          records: {
            lot: `${specimen.name.slice(0, 2).toUpperCase()}-26${10 + (m.number % 3)}`,
            ...(paste ? { mass_before_mg: tube, mass_after_mg: tube - used } : {}),
          },
        },
        tighten: { records: { torque_nm: 0.6 } },
        first_start: { records: { outcome: 'all parts there', room_c: (218 + (m.number % 5)) / 10 } },
      });
      if (paste) tube -= used;
    }
  });
}
