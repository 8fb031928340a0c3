import { resourceName } from '#features/exchange/model/descriptor';
import { gatherPackage } from './gatherPackage';
import { exchangeThreads } from './tasks';

/**
 * The tables of a study as a workbook, with a name for its file.
 * @throws Refusal 404 where there is no such study
 */
export async function studyWorkbook(studyId: number): Promise<{ name: string; bytes: Uint8Array }> {
  const { document, tables } = await gatherPackage(studyId);
  const name = `${resourceName(document.study.title).slice(0, 60)}.xlsx`;
  return { name, bytes: await exchangeThreads.workbook({ tables }) };
}
