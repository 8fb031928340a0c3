import { database } from '#app/database/pool';
import type { Finding } from '#core/compare/types';
import { amountsOf, type CutPlan, cutPlans, type PartAmount } from '#features/mount/model/amounts';
import { type AmountUsed, amountUsed } from '#features/mount/model/attempt';
import { mountFindings } from '#features/mount/model/findings';
import { asFoundSteps, type HardStop, hardStops, type MaskingSchool, mountSteps } from '#features/mount/model/steps';
import type { AmountSchool, MaterialKind, MountStep, PartKind } from '#features/mount/model/stepTypes';
import { type AttemptRow, listLastAttempts, listMountSettings, type MountSettingRow } from '#features/mount/store/attempts';
import { isAsFound } from '#features/study/model/asFound';

/** What follows from a mount's setting and its last try. */
export interface MountFacts {
  steps: MountStep[];
  stops: HardStop[];
  amount: AmountUsed | null;
  neighbours: string[];
  torque_max_nm: number | null;
  /** what each part takes */
  amounts: PartAmount[];
  /** how its cuts lie on a sheet */
  cuts: CutPlan[];
  /** A to B, where it is mixed */
  mixing_ratio: string | null;
  findings: Finding[];
}

/** What the study's plan says of a mount. */
interface PlanOfMount {
  others_follow: boolean;
  run_min: number;
  amount?: AmountSchool;
  masking?: MaskingSchool;
}

/**
 * @param last the try under way, or else the last one; null where none was written down
 * @param plan what the study's plan says of it
 */
export function mountFacts(row: MountSettingRow, last: AttemptRow | null, plan: PlanOfMount): MountFacts {
  const { contact_length_mm: l, contact_width_mm: w } = row.rig_sheet;
  const contact = l != null && w != null ? { length_mm: l, width_mm: w } : null;
  const sheet = row.material?.sheet ?? {};
  const kind = (row.kind === 'cooler' || row.kind === 'state' ? (sheet.kind ?? 'paste') : row.kind) as MaterialKind;
  const laying = {
    tested: { name: row.material?.name ?? row.specimen, kind, sheet },
    ...{ rig: row.rig_sheet, parts: row.rig_parts, amount: plan.amount },
    materials: new Map(
      Object.entries(row.part_materials ?? {}).map(([id, m]) => [Number(id), { ...m, kind: (m.sheet.kind ?? 'paste') as MaterialKind }]),
    ),
  };
  const amounts = amountsOf(laying);
  const setting = {
    ...{
      kind,
      sheet,
      part: partOf(row.rig_sheet.contact),
      masked_neighbours: row.rig_sheet.masked_neighbours ?? '',
      run_min: plan.run_min,
    },
    ...{ work: last?.work ?? [], teardown: row.teardown.length, amount: plan.amount, masking: plan.masking },
    ...{ amounts, hold: row.cooler?.sheet.hold, number: row.number },
  };
  const as_found = isAsFound(row.study_plan, { id: row.specimen_id, plan: row.specimen_plan });
  const steps = as_found ? asFoundSteps() : mountSteps(setting);
  // nothing is applied to what stays as it was found
  const stops = as_found
    ? []
    : hardStops({
        ...setting,
        material: row.material?.name ?? row.specimen,
        contact_material: row.rig_sheet.contact_material ?? null,
        base_material: row.cooler?.sheet.base_material ?? null,
        contact,
        // a coupon is used up instead of the part where the rig has them
        others_follow: plan.others_follow && row.rig_sheet.lid_coupons == null,
      });
  const neighbours = (row.rig_sheet.neighbours ?? '')
    .split(',')
    .map((n) => n.trim())
    .filter((n) => n !== '');
  const torque_max_nm = row.rig_sheet.torque_max_nm ?? null;
  return {
    ...{ steps, stops, neighbours, torque_max_nm, amounts: as_found ? [] : amounts, cuts: as_found ? [] : cutPlans(laying) },
    mixing_ratio: kind === 'epoxy' ? (sheet.mixing_ratio ?? null) : null,
    amount: last ? amountUsed(last.steps, sheet.density_g_per_cm3 ?? null, contact ? contact.length_mm * contact.width_mm : null) : null,
    findings: last
      ? mountFindings({
          ...{ states: last.steps, steps, stops, neighbours, torque_max_nm },
          ...{ cycles: sheet.conditioning_cycles ?? null, pot_life_min: sheet.pot_life_min ?? null, mixing_ratio: sheet.mixing_ratio },
          cure_h: kind === 'epoxy' && !as_found ? (sheet.conditioning_h ?? null) : null,
          cut_problems: as_found ? [] : amounts.flatMap((a) => a.problems),
        })
      : [],
  };
}

function partOf(contact: string | undefined): PartKind {
  if (contact === 'die' || contact === 'dies') return 'die';
  return contact === 'row' ? 'row' : 'lid';
}

interface FindingsOfMount {
  mount_id: number;
  specimen: string;
  number: number;
  findings: Finding[];
}

/** Findings of how a study's mounts were made, of those mounts that have any. */
export async function studyMountFindings(studyId: number): Promise<FindingsOfMount[]> {
  const db = database();
  const last = new Map((await listLastAttempts(db, studyId)).map((a) => [a.mount_id, a]));
  return (await listMountSettings(db, studyId)).flatMap((row) => {
    const { findings } = mountFacts(row, last.get(row.id) ?? null, { others_follow: true, run_min: 0 });
    return findings.length > 0 ? [{ mount_id: row.id, specimen: row.specimen, number: row.number, findings }] : [];
  });
}
