import readXlsxFile from 'read-excel-file/node';
import { describe, expect, it } from 'vitest';
import type { PackageRow } from '#features/exchange/model/packageTable';
import { TABLES } from '#features/exchange/model/tables';
import { workbook } from './workbook';

const run: PackageRow = {
  ...{ id: 3, mount_id: 2, number: 1, started_at: '2026-06-02T14:30:05.000Z', started_zoned: true, day: '2026-06-02', load: null },
  ...{ source: 'logs', valid: true, r_valid: false, censored: false, judged: 'open', excluded_reason: '=1+1', rise_k: 41.25, se_k: 1e-7 },
};

async function sheetsOf(tables: Record<string, PackageRow[]>) {
  const sheets = await readXlsxFile(await workbook(tables));
  return new Map(sheets.map(({ sheet, data }) => [sheet, data]));
}

describe('the workbook of a study', () => {
  it('has real numbers and times, units in its heads, and no formula', async () => {
    const sheets = await sheetsOf({ runs: [run] });
    const [head, row] = sheets.get('runs') ?? [];
    const at = (title: string) => row[head.indexOf(title)];
    expect(at('ΔT over ambient / K')).toBe(41.25);
    expect(at('Standard error of the rise / K')).toBe(1e-7);
    expect(at('Whether its rise counts')).toBe(true);
    // a spreadsheet keeps times as parts of a day
    expect(Math.abs(Number(at('Begun')) - Date.parse('2026-06-02T14:30:05Z'))).toBeLessThan(5);
    expect(at('Why it is left out')).toBe('=1+1');
    expect(at('Load')).toBeNull();
    expect(head).toContain('Ambient in the window / °C');
    expect(head).toContain('Fan speed in the window / rpm');
    expect(head).toContain('Share of the window in which it throttled');
  });

  it('has a sheet for every table with rows, the verdicts first, and those of the specimens always', async () => {
    expect([...(await sheetsOf({})).keys()]).toEqual(['specimens']);
    const all = Object.fromEntries(TABLES.map((t) => [t.name, [run]]));
    expect([...(await sheetsOf(all)).keys()].slice(0, 3)).toEqual(['pairs', 'means', 'runs']);
    expect((await sheetsOf(all)).size).toBe(TABLES.length);
    for (const name of Object.keys(all)) expect(name.length).toBeLessThan(32);
  });

  it('takes any text: control characters go, and what is too long is cut', async () => {
    const name = 'a\u0000b\u0008c <&> "é" \ud83d\udd25\n2';
    const sheets = await sheetsOf({ specimens: [{ id: 1, position: 0, name, kind: 'x'.repeat(40_000), reference: false }] });
    const [head, row] = sheets.get('specimens') ?? [];
    expect(row[head.indexOf('Name')]).toBe('a b c <&> "é" \ud83d\udd25\n2');
    expect(String(row[head.indexOf('Kind')])).toHaveLength(32_767);
  });
});
