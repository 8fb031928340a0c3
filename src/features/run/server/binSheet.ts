import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { SECTIONS, type SectionKey } from '#features/shelf/model/sections';
import { isNamed, setArchived, takeSheet } from '#features/shelf/store/sheets';
import { insertSheetBin } from '#features/study/store/bin';

/** What became of a sheet that was to be deleted. */
export interface SheetGone {
  archived: boolean;
  /** entry of the bin; null where it was archived instead */
  bin: number | null;
  title: string;
}

/**
 * Deletes a sheet that nothing uses into the bin; one that is used is archived instead, so that its history stays.
 * @throws Refusal 404 where there is none
 */
export const binSheet = (section: SectionKey, id: number): Promise<SheetGone> =>
  transaction(async (client) => {
    const { one } = SECTIONS[section];
    if (await isNamed(client, section, id)) {
      await setArchived(client, section, id, true);
      return { archived: true, bin: null, title: '' };
    }
    const row = await takeSheet(client, section, id);
    if (!row) throw new Refusal(`There is no ${one} ${id} on the shelf.`, 404);
    return { archived: false, bin: await insertSheetBin(client, section, row, row.name), title: row.name };
  });
