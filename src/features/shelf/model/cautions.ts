import type { SpecimenKind } from './materials';
import type { MaterialSheet } from './sheets';

/** Cautions of working at the open machine, whatever is applied. */
export const BENCH_CAUTIONS = [
  'Disconnect mains and battery first, let it discharge, and avoid static. If the battery is swollen, stop.',
  'Isopropyl alcohol is flammable: ventilate, no sparks, and let it dry before power is applied.',
];

/** Cautions of working on the machine itself, by what is done. */
export const MACHINE_CAUTIONS = {
  warranty: 'Opening a device can void its warranty. Power supplies and anything at mains voltage are work for a licensed trade.',
  liquid_metal: 'Liquid metal from an earlier application may be inside: it conducts and spreads. Wear gloves and keep it out of drains.',
  lid: 'Blades, vices and heated lids can injure: wear eye protection and keep hands clear of the blade.',
  oven: 'Solder fumes: use a ventilated oven, never one that is used for food.',
  lapping: 'Lapping dust is harmful: work wet, with a mask, away from the board. A cracked die cannot be repaired.',
  limit:
    'Overheating can start a fire: run fan-off and overheat tests only attended, with a cut-off within reach, on equipment you can afford to lose.',
  clearance: 'A lid resting on its adhesive does not touch the die: measure the gap.',
  die: 'A bare die chips at its edges: keep the cooler level and tighten in small steps, never one screw at a time.',
  plate: 'A copper plate conducts: cut it to size and insulate neighbours. Copper on aluminium corrodes in damp air.',
} as const;

/** Cautions of a material, said where it is applied; data sheets and local rules come first. */
export function cautionsOf(kind: SpecimenKind, sheet: MaterialSheet | null): string[] {
  const cautions: string[] = [];
  if (kind === 'liquid_metal') {
    cautions.push(
      'Liquid metal shorts what it touches and destroys aluminium: use it on copper or nickel-plated copper only, mask neighbours, wear gloves, keep it out of drains. The data sheet decides.',
      'A fresh syringe can spurt because of trapped air: discard the first drop.',
    );
  } else if (kind === 'graphite' || sheet?.conducts) cautions.push('It conducts electricity: cut to size and insulate neighbours.');
  if (kind === 'epoxy')
    cautions.push('Epoxy irritates skin and is permanent: wear gloves, and have the right coupon at hand before mixing.');
  else if (sheet?.permanent) cautions.push('It is permanent: have the right coupon at hand before applying it.');
  if (kind === 'solder')
    cautions.push('Solder and flux fumes are harmful: ventilate, wear eye protection, and never use an oven that is used for food.');
  return cautions;
}
