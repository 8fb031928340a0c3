import readWorkbook from 'read-excel-file/web-worker';
import { readOds } from './readOds';
import { type SheetCells, sheetTexts } from './sheetText';

/** Sheets of a spreadsheet as comma-separated values. */
async function read(name: string, bytes: Uint8Array): Promise<{ name: string; text: string }[]> {
  if (/\.ods$/i.test(name)) return sheetTexts(readOds(bytes));
  const sheets = await readWorkbook(new Blob([bytes as Uint8Array<ArrayBuffer>])).catch(() => {
    throw new Error('it is no .xlsx workbook.');
  });
  return sheetTexts(sheets.map(({ sheet, data }) => ({ name: sheet, rows: data as SheetCells['rows'] })));
}

export const api = { read };
export type SpreadsheetApi = typeof api;
