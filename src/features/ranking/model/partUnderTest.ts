import type { Contact } from '#features/shelf/model/contacts';
import type { RigPart } from '#features/shelf/model/rigParts';
import type { RigSheet } from '#features/shelf/model/sheets';

interface PartUnderTest {
  /** what the material lies on, mm²; null where it cannot be told */
  area_mm2: number | null;
  contact: Contact | null;
  /** why there is no area, as what would be right; empty where there is one */
  problem: string;
}

/** The part that what is tested lies on: the one of the rig's parts that has nothing of its own, else the rig's contact. */
export function partUnderTest(
  sheet: Pick<RigSheet, 'contact' | 'contact_length_mm' | 'contact_width_mm'>,
  parts: RigPart[],
): PartUnderTest {
  const open = parts.filter((p) => p.material_id == null);
  if (open.length > 1)
    return {
      ...{ area_mm2: null, contact: null },
      problem: `what is tested lies on ${open.length} parts at once, so that their resistances cannot be separated`,
    };
  const [part] = open;
  const contact = part?.contact ?? ((sheet.contact as Contact | undefined) || null);
  const [length, width] = [part?.length_mm ?? sheet.contact_length_mm, part?.width_mm ?? sheet.contact_width_mm];
  if (length == null || width == null)
    return { area_mm2: null, contact, problem: 'its rig’s sheet does not state the size of the contact' };
  return { area_mm2: length * width * (part?.count ?? 1), contact, problem: '' };
}
