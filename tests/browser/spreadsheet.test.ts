import { strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import writeXlsxFile from 'write-excel-file/node';
import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { zipOf } from '../db/changedPackages.ts';
import { base } from '../simulatedLog.ts';
import { type App, dropFiles, open, startApp } from './app.ts';
import { elevenRuns } from './elevenRuns.ts';

/** What comes as a spreadsheet, or in a package of another program, goes through the door of the logs. */
let app: App;
beforeAll(async () => {
  app = await startApp('empty');
});
afterAll(async () => app.stop());

/** A table as a workbook with real numbers. */
const xlsx = async (rows: (string | number)[][]): Promise<Uint8Array> =>
  new Uint8Array(await writeXlsxFile(rows.map((row) => row.map((value) => ({ value })))).toBuffer());

const NAMES =
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"';
const ods = (rows: (string | number)[][]): Uint8Array =>
  zipSync({
    'content.xml': strToU8(
      `<office:document-content ${NAMES}><office:body><office:spreadsheet><table:table table:name="S">${rows
        .map(
          (row) =>
            `<table:table-row>${row
              .map((v) =>
                typeof v === 'number'
                  ? `<table:table-cell office:value-type="float" office:value="${v}"/>`
                  : `<table:table-cell><text:p>${v.replaceAll('&', '&amp;')}</text:p></table:table-cell>`,
              )
              .join('')}</table:table-row>`,
        )
        .join('')}</table:table></office:spreadsheet></office:body></office:document-content>`,
    ),
  });

/** A simulated log as cells, its numbers as numbers. */
const cellsOf = (bytes: Uint8Array): (string | number)[][] =>
  new TextDecoder()
    .decode(bytes)
    .trim()
    .split('\n')
    .map((line) => line.split(',').map((c) => (c !== '' && !Number.isNaN(Number(c)) ? Number(c) : c)));

const runs = () => elevenRuns((thing, mount, run) => `${thing}_mount${mount}_run${run}`);

describe('spreadsheets', () => {
  it('of logs become runs, .xlsx and .ods side by side', async () => {
    const page = await app.newPage();
    await open(page, app.url);
    const logs = runs().slice(0, 4);
    // as long as logs are: a library may unpack what is over half a megabyte in workers of its own, which the policy forbids
    const long = (seed: number) =>
      cellsOf(new TextEncoder().encode(writeLog(simulateRun(NORTH_BENCH, { ...base, seed, load_s: 9000 }), 1781000000)));
    const [workbook, sheet] = [await xlsx(long(1)), ods(long(2))];
    expect(Object.values(unzipSync(workbook)).some((part) => part.length > 1_000_000)).toBe(true);
    expect(unzipSync(sheet)['content.xml'].length).toBeGreaterThan(1_000_000);
    await dropFiles(page, [
      { name: `${logs[0].name}.xlsx`, bytes: workbook },
      { name: `${logs[1].name}.ods`, bytes: sheet },
      { name: `${logs[2].name}.xlsx`, bytes: await xlsx(cellsOf(logs[2].bytes)) },
      { name: `${logs[3].name}.csv`, bytes: logs[3].bytes },
    ]);
    await page.getByRole('radio', { name: '4 runs, one in each file' }).check();
    await page.getByRole('button', { name: 'Store 4 runs' }).click();
    await page.waitForURL(/\/studies\/\d+\/results/);
    const [{ id }] = (await (await fetch(`${app.url}/api/places`)).json()).studies;
    const values = (await (await fetch(`${app.url}/api/studies/${id}/values.csv`)).text()).trim().split('\n').slice(2);
    expect(values).toHaveLength(4);
    for (const line of values) expect(line).toMatch(/,true,false,/);
  });

  it('of values become typed runs', async () => {
    const page = await app.newPage();
    await open(page, app.url);
    await dropFiles(page, [
      {
        name: 'values.xlsx',
        bytes: await xlsx([
          ['Specimen', 'Mount', 'Mean', 'Room'],
          ['Amber nine', 1, 61.5, 22],
          ['Amber nine', 2, 61.9, 22],
          ['Birch two', 1, 64.25, 22],
          ['Birch two', 2, 64.4, 22],
        ]),
      },
    ]);
    await page.getByRole('button', { name: 'Save 4 runs' }).click();
    await page.waitForURL(/\/studies\/\d+\/results/);
    const id = /studies\/(\d+)/.exec(page.url())?.[1];
    const values = (await (await fetch(`${app.url}/api/studies/${id}/values.csv`)).text()).trim().split('\n').slice(2);
    expect(values.map((line) => Number(Number(line.split(',')[7]).toFixed(9)))).toEqual([39.5, 39.9, 42.25, 42.4]);
  });

  it('that cannot be read are refused in a sentence', async () => {
    const page = await app.newPage();
    await open(page, app.url);
    await dropFiles(page, [{ name: 'old.xls', bytes: new Uint8Array([1, 2, 3]) }]);
    await page.getByText('old.xls cannot be read; save it as .xlsx, .ods or CSV.').waitFor();
    await dropFiles(page, [{ name: 'none.xlsx', bytes: new Uint8Array([1, 2, 3]) }]);
    await page.getByText('none.xlsx cannot be read: it is no .xlsx workbook.').waitFor();
    await dropFiles(page, [{ name: 'none.ods', bytes: new Uint8Array([1, 2, 3]) }]);
    await page.getByText('none.ods cannot be read: it is no OpenDocument spreadsheet.').waitFor();
  });
});

describe('a package of another program', () => {
  it('is read as far as its tables say specimen, mount, run and samples', async () => {
    const [a, b] = runs().slice(5, 7);
    const [head, ...rows] = cellsOf(a.bytes);
    const lines = (of: (string | number)[][], ...belongs: (string | number)[]) => of.map((row) => [...belongs, ...row].join(','));
    const samples = [
      ['sample', 'mount', 'run', ...head].join(','),
      ...lines(rows, 'Cedar', 1, 1),
      ...lines(cellsOf(b.bytes).slice(1), 'Cedar', 1, 2),
    ].join('\n');
    const descriptor = {
      name: 'foreign',
      resources: [
        { name: 'samples', path: 'data/samples.csv', schema: { fields: [] } },
        { name: 'inline', data: [] },
      ],
    };
    const bytes = await zipOf(
      new Map([
        ['datapackage.json', Buffer.from(JSON.stringify(descriptor))],
        ['data/samples.csv', Buffer.from(samples)],
      ]),
    );
    const page = await app.newPage();
    await open(page, app.url);
    await dropFiles(page, [{ name: 'foreign.zip', bytes: new Uint8Array(bytes) }]);
    await page.getByRole('cell', { name: 'Cedar_mount1_run2.csv', exact: true }).waitFor();
    await expect.poll(() => page.getByText('Cedar_mount1_run1.csv').count()).toBeGreaterThan(0);
    await page.getByRole('radio', { name: '2 runs, one in each file' }).check();
    await page.getByRole('button', { name: 'Store 2 runs' }).waitFor();
    await page.getByRole('button', { name: 'Close' }).first().click();
    await dropFiles(page, [
      {
        name: 'other.zip',
        bytes: new Uint8Array(
          await zipOf(
            new Map([
              ['datapackage.json', Buffer.from(JSON.stringify({ resources: [{ path: 'a.csv' }] }))],
              ['a.csv', Buffer.from('country,people\nA,1\n')],
            ]),
          ),
        ),
      },
    ]);
    await page.getByText(/other\.zip comes from another program, and no table of it says what was measured/).waitFor();
  });
});
