import type { Finding as AnyFinding } from '#core/compare/types';

/** A sheet has nothing that waits for a decision. */
export type SheetFinding = AnyFinding & { severity: 'note' | 'warn' | 'reject' };

import type { SectionKey, SheetValues } from './sections';
import type { CoolerSheet, InstrumentSheet, MaterialSheet, RigSheet } from './sheets';

/** An instrument whose calibration has run out, or has no date. */
export function calibrationFinding(name: string, sheet: InstrumentSheet, today: string): SheetFinding | null {
  if (sheet.calibrated_until == null) return { code: 'calibration_unknown', severity: 'note', message: `${name} has no calibration date.` };
  if (sheet.calibrated_until >= today) return null;
  return {
    code: 'calibration_out',
    severity: 'warn',
    message: `The calibration of ${name} was valid until ${sheet.calibrated_until}; absolute values depend on it, differences on one rig less.`,
  };
}

/** Liquid metal, or another material said not to be safe on aluminium, on an aluminium part. */
export function aluminiumFinding(
  material: string,
  sheet: MaterialSheet,
  part: string,
  metal: string | null | undefined,
): SheetFinding | null {
  if (metal !== 'aluminium') return null;
  const unsafe = sheet.aluminium_safe === false || (sheet.kind === 'liquid_metal' && sheet.aluminium_safe !== true);
  if (!unsafe) return null;
  return {
    code: 'aluminium_attacked',
    severity: 'reject',
    message: `${material} attacks aluminium, and ${part} is made of aluminium: use copper or nickel-plated copper, and follow the data sheet.`,
  };
}

/** Findings of one sheet by itself. */
export function sheetFindings(section: SectionKey, name: string, values: SheetValues, today: string): SheetFinding[] {
  if (section === 'instruments') return [calibrationFinding(name, values as InstrumentSheet, today)].filter((f) => f !== null);
  if (section === 'materials') {
    const m = values as MaterialSheet;
    const findings: SheetFinding[] = [];
    if (m.kind === 'liquid_metal' && m.aluminium_safe === true)
      findings.push({
        code: 'aluminium_claim',
        severity: 'warn',
        message: `${name} is a liquid metal and is marked safe on aluminium; most are not. Check its data sheet.`,
      });
    if (m.kind === 'liquid_metal' && m.conducts === false)
      findings.push({
        code: 'conduction_claim',
        severity: 'warn',
        message: `${name} is a liquid metal and is marked as not conducting; mask neighbours anyway.`,
      });
    return findings;
  }
  return [];
}

/** Findings of a material on a rig as it is built. */
export const matchFindings = (
  material: { name: string; sheet: MaterialSheet },
  rig: { name: string; sheet: RigSheet },
  cooler: { name: string; sheet: CoolerSheet } | null,
): SheetFinding[] =>
  [
    aluminiumFinding(material.name, material.sheet, `the contact of ${rig.name}`, rig.sheet.contact_material),
    cooler && aluminiumFinding(material.name, material.sheet, `the base of ${cooler.name}`, cooler.sheet.base_material),
  ].filter((f) => f !== null);
