import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { check } from '#rules/validation';
import { SECTION_KEYS, SECTIONS, type SheetValues, sectionFields } from './sections';
import { readSheets, writeSheets } from './sheetCsv';
import { aluminiumFinding, calibrationFinding, matchFindings } from './sheetFindings';
import { CoolerSheet, MaterialSheet, RigSheet } from './sheets';
import { amountLeft, mountsPerPack, stockOf } from './stock';

describe('stock', () => {
  it('counts the mounts of a pack, and says nothing where the sheet does not', () => {
    expect(mountsPerPack({ pack_size: 4, pack_unit: 'g', per_mount: 0.35 })).toBe(11);
    expect(mountsPerPack({ pack_size: 0.3, pack_unit: 'g', per_mount: 0.1 })).toBe(3);
    expect(
      mountsPerPack({ pack_size: 4, pack_unit: 'sheets', sheet_length_mm: 80, sheet_width_mm: 40, cut_length_mm: 38, cut_width_mm: 38 }),
    ).toBe(8);
    expect(mountsPerPack({ pack_size: 4, pack_unit: 'sheets' })).toBeNull();
    expect(mountsPerPack({ per_mount: 1 })).toBeNull();
  });

  it('never leaves less than nothing, and spends one piece of a reusable sheet', () => {
    const tube: MaterialSheet = { pack_size: 1, pack_unit: 'g', per_mount: 0.25, packs: 1, price: 8 };
    expect(stockOf(tube, 3)).toEqual({ per_pack: 4, bought: 4, left: 1, cost: 2 });
    expect(stockOf(tube, 9).left).toBe(0);
    // paste is gone once it is used, whatever its sheet says
    expect(stockOf({ ...tube, reusable: true }, 3).left).toBe(1);
    expect(stockOf({ price: 8 }, 1)).toEqual({ per_pack: null, bought: null, left: null, cost: null });
  });
});

describe('findings of sheets', () => {
  it('tells a calibration that has run out, and one without a date', () => {
    expect(calibrationFinding('A', { calibrated_until: '2026-02-20' }, '2026-02-20')).toBeNull();
    expect(calibrationFinding('A', { calibrated_until: '2026-02-20' }, '2026-02-21')).toMatchObject({
      code: 'calibration_out',
      severity: 'warn',
    });
    expect(calibrationFinding('A', {}, '2026-02-21')).toMatchObject({ code: 'calibration_unknown' });
  });

  it('refuses liquid metal on aluminium, also where its sheet is silent', () => {
    expect(aluminiumFinding('Tarn', { kind: 'liquid_metal' }, 'the base', 'aluminium')).toMatchObject({ severity: 'reject' });
    expect(aluminiumFinding('Tarn', { kind: 'liquid_metal', aluminium_safe: true }, 'the base', 'aluminium')).toBeNull();
    expect(aluminiumFinding('Tarn', { kind: 'liquid_metal' }, 'the base', 'nickel')).toBeNull();
    expect(aluminiumFinding('Loam White', { kind: 'paste' }, 'the base', 'aluminium')).toBeNull();
  });

  it('looks at the contact of the rig and at the base of the cooler', () => {
    const tarn = { name: 'Tarn', sheet: check(MaterialSheet, { kind: 'liquid_metal', aluminium_safe: false }) };
    const rig = { name: 'North bench', sheet: check(RigSheet, { contact_material: 'aluminium' }) };
    const cooler = { name: 'Low Otter', sheet: check(CoolerSheet, { base_material: 'aluminium' }) };
    expect(matchFindings(tarn, rig, cooler).map((f) => f.message.includes('Low Otter'))).toEqual([false, true]);
    expect(matchFindings(tarn, rig, null)).toHaveLength(1);
  });
});

/** Texts that are written in a way of their own. */
const WRITTEN: Record<string, string> = {
  screw_positions: '-40, 0; 40, 0',
  mixing_ratio: '10 : 1 by mass',
  amounts: 'up to 400 mm²: 100 mg, 1 dot of 4 mm',
  heights: 'with cover 44.5; without cover 41',
  address: '127.0.0.1:5025',
  channels: 'Die 1: sensor °C = MEAS:TEMP? (@101); Room: ambient °C = MEAS:TEMP? (@201)',
};

describe('sheets as CSV', () => {
  it('reads back what it wrote, for every section and any texts', () => {
    for (const section of SECTION_KEYS) {
      const fields = sectionFields(section).filter((f) => f.kind !== 'ref' && f.kind !== 'refs');
      const text = fc.string({ maxLength: 3 }).map((s) => s.trim());
      const value = (f: (typeof fields)[number]): fc.Arbitrary<SheetValues[string]> =>
        f.key in WRITTEN
          ? fc.constant(WRITTEN[f.key])
          : f.kind === 'number' || f.kind === 'whole'
            ? fc.constantFrom(...(['throttle_limit_c', 'stop_c'].includes(f.key) ? [90] : [10]))
            : f.kind === 'yesno'
              ? fc.boolean()
              : f.kind === 'choice'
                ? fc.constantFrom(...Object.keys(f.choices ?? {}))
                : f.kind === 'date'
                  ? fc.constant('2026-06-02')
                  : text.filter((s) => s !== '' && !s.startsWith("'"));
      const sheet = fc.record(Object.fromEntries(fields.map((f) => [f.key, value(f)])), { requiredKeys: [] });
      const name = text.filter((s) => s !== '' && !s.startsWith("'"));
      fc.assert(
        fc.property(fc.uniqueArray(fc.record({ name, sheet }), { minLength: 1, maxLength: 5, selector: (r) => r.name }), (rows) => {
          const read = readSheets(section, writeSheets(section, rows));
          expect(read.problems).toEqual([]);
          expect(read.rows).toEqual(rows);
        }),
        { numRuns: 40 },
      );
    }
  });

  it('names row and column of what it cannot take, and takes nothing', () => {
    const read = readSheets(
      'materials',
      'name,kind,conductivity_w_per_mk (W/(m·K)),permanent\nA,paste,"6,1",yes\nB,butter,much,perhaps\n,paste,-4,\n',
    );
    expect(read.rows).toEqual([]);
    expect(read.problems).toEqual([
      expect.stringMatching(/^Row 3, column "kind": "butter" is not one of/),
      'Row 3, column "conductivity_w_per_mk (W/(m·K))": "much" is not a number.',
      'Row 3, column "permanent": "perhaps" should be yes or no.',
      'Row 4: the name needs 1 to 80 characters.',
      'Row 4: Claimed conductivity should be between 0.01 and 5000 W/(m·K).',
    ]);
    expect(readSheets('materials', 'name,density_g_per_cm3 (kg/m3)\nA,2\n').problems).toEqual([
      'Row 1: the column "density_g_per_cm3 (kg/m3)" should be in g/cm³.',
    ]);
    expect(readSheets('materials', '').problems[0]).toMatch(/column "name" is missing/);
  });

  it('does not let a spreadsheet take a text for a formula', () => {
    const text = writeSheets('fans', [{ name: '=1+1', sheet: { note: '@now' } }]);
    expect(text).toContain("'=1+1");
    expect(text).toContain("'@now");
    expect(readSheets('fans', text).rows).toEqual([{ name: '=1+1', sheet: { note: '@now' } }]);
  });

  it('gives every section fields with words and rules', () => {
    for (const section of SECTION_KEYS) {
      expect(sectionFields(section).every((f) => f.label !== '' && f.group !== '')).toBe(true);
      expect(() => check(SECTIONS[section].sheet as new () => object, { price: 'dear', throttle_limit_c: 1, accuracy: -1 })).toThrow(
        /number|between/,
      );
    }
  });
});

describe('what is left of a pack', () => {
  it('is the same on the shelf and in the dose tool; only a sheet is used again', () => {
    const paste = { pack_size: 10, pack_unit: 'g', per_mount: 1, packs: 1, reusable: true } as const;
    expect(stockOf(paste, 4).left).toBe(6);
    expect(amountLeft(paste, 4)).toBe(6);
    const sheet = {
      pack_size: 2,
      pack_unit: 'sheets',
      packs: 1,
      sheet_length_mm: 40,
      sheet_width_mm: 40,
      cut_length_mm: 37,
      cut_width_mm: 37,
      reusable: true,
    } as const;
    expect(stockOf(sheet, 4).left).toBe(1);
  });
});
