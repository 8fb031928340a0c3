import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { refuseUnseen } from '#app/seen';
import { Layout, LayoutFile } from '#features/run/model/layout';
import { changeLayout, deleteLayout, isNameTaken, type LayoutRow, listLayouts, lockLayout, saveLayout } from '#features/run/store/layouts';
import { check } from '#rules/validation';

export type LayoutView = Omit<LayoutRow, 'changed_at'> & { changed_at: string };

const toView = (row: LayoutRow): LayoutView => ({ ...row, changed_at: row.changed_at.toISOString() });

/** All log formats that were kept, by name. */
export const layouts = async (): Promise<LayoutView[]> => (await listLayouts(database())).map(toView);

/** Keeps what was decided for files with these headers. */
export async function rememberLayout(given: Record<string, unknown>): Promise<LayoutView> {
  const layout = check(Layout, trimmed(given));
  await refuseTaken(layout);
  return toView(await saveLayout(database(), { ...layout, sensor: layout.sensor ?? null }));
}

async function refuseTaken({ name, headers }: Layout): Promise<void> {
  if (await isNameTaken(database(), name, headers))
    throw new Refusal(`There is already a log format "${name}" for files with other headers; choose another name.`, 409, { field: 'name' });
}

/**
 * Changes a layout; gives all of them.
 * @throws Refusal 404 where it is not there any more, RuleError where it breaks a rule
 */
export async function editLayout(id: number, given: Record<string, unknown>): Promise<LayoutView[]> {
  await transaction(async (client) => {
    const known = await lockLayout(client, id);
    if (!known) throw new Refusal('The log format no longer exists.', 404);
    const layout = check(Layout, trimmed({ ...given, headers: known.headers }));
    await refuseTaken(layout);
    const { name, reading, sensor } = known;
    refuseUnseen(given, { name, reading, sensor }, `Somebody else saved the log format “${name}” meanwhile.`);
    await changeLayout(client, id, { ...layout, sensor: layout.sensor ?? null });
  });
  return layouts();
}

/** Takes a layout away; the answer carries it, so that it can be kept again. */
export async function forgetLayout(id: number): Promise<{ layouts: LayoutView[]; taken: Layout }> {
  const taken = await deleteLayout(database(), id);
  if (!taken) throw new Refusal('The log format no longer exists.', 404);
  const { name, headers, reading, sensor } = taken;
  return { layouts: await layouts(), taken: { name, headers, reading: reading as Layout['reading'], sensor } };
}

/** Takes over a file of layouts, all or none; a layout for the same headers is replaced. */
export async function takeLayouts(given: Record<string, unknown>): Promise<LayoutView[]> {
  const file = check(LayoutFile, given);
  for (const layout of file.layouts) await refuseTaken(layout);
  await transaction(async (client) => {
    for (const layout of file.layouts) await saveLayout(client, { ...layout, sensor: layout.sensor ?? null });
  });
  return layouts();
}

const trimmed = (given: Record<string, unknown>): Record<string, unknown> =>
  typeof given.name === 'string' ? { ...given, name: given.name.trim() } : given;
