import { transaction } from '#app/database/pool';
import type { AttemptOutcome, StepStates } from '#features/mount/model/attempt';
import type { FailureCause } from '#features/mount/model/failure';
import { insertAttempt, listAttempts, lockOpenAttempt, saveAttempt } from '#features/mount/store/attempts';
import { insertOpening, listOpenings } from '#features/mount/store/openings';
import { getTeardown, updateTeardown } from '#features/shelf/store/rigs';
import { listMounts, listSpecimens } from '#features/study/store/studies';

/** What did not go as it should when the mounts of a study were made, by specimen and mount. */
interface Mishaps {
  failed: Record<string, { outcome: AttemptOutcome; cause: FailureCause; reason: string }>;
  /** mounts of which nobody said what became of the pads */
  untold: string[];
}
export const SOUTH_HUT_MISHAPS: Mishaps = {
  failed: {
    'Slip Felt 0.5/2': { outcome: 'tilted', cause: 'tilted', reason: 'Pad slid under one corner while the cooler was set down.' },
    'Bramble 5/3': { outcome: 'no_start', cause: 'too_tight', reason: 'One screw a turn too tight; card does not answer.' },
  },
  untold: ['Bramble 5/2'],
};
const NONE: Mishaps = { failed: {}, untold: [] };
/** mg of a fresh tube */
const TUBE = 5200;

const PEOPLE = ['EB', 'TK'];

/** The lid of the south card as it was read, a little higher in its middle: x and y in mm, µm. */
const LID = ['0 0 2', '18 0 7', '36 0 1', '0 18 6', '18 18 13', '36 18 8', '0 36 0', '18 36 6', '36 36 3'].join('\n');
const GAPS =
  'memory pads: gap 0.75 mm, pad 1 mm, 400 mm², 200 kPa at 25 %\nregulator pad: gap 1.2 mm, pad 1.5 mm, 150 mm², 200 kPa at 25 %';

/** Number that ends the lots of nearly all materials. */
const BATCH = '2611';

/**
 * Writes down how the mounts of a study were made: who, lot, tube before and after, torque, room.
 * @param batches of materials that were of another lot here
 */
export async function writeAttempts(
  studyId: number,
  { failed: failures, untold }: Mishaps = NONE,
  batches: Record<string, string> = {},
): Promise<void> {
  await transaction(async (client) => {
    const names = new Map((await listSpecimens(client, studyId)).map((s) => [s.id, s]));
    const tubes = new Map<string, number>();
    for (const m of await listMounts(client, studyId)) {
      const specimen = names.get(m.specimen_id);
      if (!specimen || (await listAttempts(client, m.id)).length > 0) continue;
      const key = `${specimen.name}/${m.number}`;
      const tube = tubes.get(specimen.name) ?? TUBE;
      const who = PEOPLE[m.number % 2];
      const paste = specimen.kind === 'paste';
      const used = 330 + 7 * ((3 * m.number + m.specimen_id) % 9);
      const end = async (outcome: AttemptOutcome, steps: StepStates, cause: FailureCause | null = null, reason = '') => {
        await insertAttempt(client, m.id, who);
        const attempt = await lockOpenAttempt(client, m.id);
        if (attempt) await saveAttempt(client, { ...attempt, outcome, cause, reason, steps, ended_at: new Date() });
      };
      const failed = failures[key];
      if (failed) await end(failed.outcome, {}, failed.cause, failed.reason);
      const made = `2026-06-0${1 + (m.number % 7)}T09:${10 + ((7 * m.id) % 45)}:00.000Z`;
      const first_start = { done_at: made, records: { outcome: 'all parts there', room_c: (218 + (m.number % 5)) / 10 } };
      // nothing is opened of what stays as it was found
      if (specimen.plan.fixed) {
        const note = 'Grey dust across the fins; screws and label as delivered.';
        await end('ready', { inspect: { done_at: made, records: { note } }, first_start });
        continue;
      }
      await end('ready', {
        measure: {
          records:
            specimen.kind === 'pad'
              ? { heights: LID, gaps: GAPS }
              : specimen.name === 'Bramble 5' && m.number === 1
                ? { heights: LID }
                : {},
        },
        apply: {
          done_at: made,
          records: {
            lot: `${specimen.name.slice(0, 2).toUpperCase()}-${batches[specimen.name] ?? BATCH}`,
            ...(paste ? { mass_before_mg: tube, mass_after_mg: tube - used, pattern: `Several dots, ${used} mg` } : {}),
          },
        },
        place: { done_at: made, interfaces: untold.includes(key) ? {} : { 'memory pads': 'renewed', 'regulator pad': 'inspected' } },
        tighten: { done_at: made, records: { torque_nm: 0.6, screws: 'cross, 2 screws in 3 rounds' } },
        first_start,
      });
      if (paste) tubes.set(specimen.name, tube - used);
    }
  });
}

/** How the cooler and shroud of a bench come off, to the bare card. */
export async function writeTeardown(rigId: number): Promise<void> {
  await transaction(async (client) => {
    const rig = await getTeardown(client, rigId);
    if (!rig || rig.teardown.length > 0) return;
    await updateTeardown(client, rigId, rig.teardown_version, [
      { what: 'Unplug the card and wait for its lamp to go out', connectors: 'supply, 8 poles', minutes: 2 },
      { what: 'Take off the air shroud', screws: 4, screw_mm: 6, place: 'along the rear edge', tool: 'cross-head 1', minutes: 3 },
      { what: 'Unplug the fan', connectors: 'fan header beside the lid', minutes: 0.5 },
      {
        what: 'Take off the stiffener',
        screws: 6,
        screw_mm: 10,
        place: 'the two longer ones under the label',
        tool: 'cross-head 1',
        minutes: 4,
      },
      {
        what: 'Loosen the cooler in turns',
        screws: 2,
        screw_mm: 22,
        place: 'left and right of the lid, sprung',
        tool: 'torque driver',
        minutes: 2,
      },
    ]);
  });
}

/** One mount of the sixty days was opened after its last measurement: what the paste looked like. */
export async function writeOpening(studyId: number): Promise<void> {
  await transaction(async (client) => {
    const bramble = (await listSpecimens(client, studyId)).find((s) => s.name === 'Bramble 5');
    const mount = (await listMounts(client, studyId)).find((m) => m.specimen_id === bramble?.id && m.number === 4);
    if (!mount || (await listOpenings(client, mount.id)).length > 0) return;
    await insertOpening(client, {
      mount_id: mount.id,
      found: ['pumped_out'],
      note: 'thin over the middle, a rim of paste at the edges of the lid',
      who: 'EB',
    });
  });
}
