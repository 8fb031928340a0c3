import type { SpecimenKind } from './materials';
import type { MaterialSheet } from './sheets';

/** Cautions of working at the open machine, whatever is applied. */
export const BENCH_CAUTIONS = [
  'Disconnect mains and battery first, let it discharge, and mind static. A swollen battery: stop.',
  'Isopropyl alcohol burns: air, no sparks, dry before power.',
];

/** Cautions of working on the machine itself, by what is done. */
export const MACHINE_CAUTIONS = {
  warranty: 'Opening a device ends many warranties; power supplies and anything at mains voltage are work for a licensed trade.',
  liquid_metal: 'Liquid metal may be inside from an earlier hand: it conducts and runs. Gloves; keep it out of drains.',
  lid: 'Blades, vices and heated lids: eye protection, hands out of the way of the blade.',
  oven: 'An oven for solder only with ventilation, and never one that is used for food.',
  lapping: 'Lapping dust: wet, masked, away from the board. A die that cracks is lost.',
  limit: 'Fan-off and overheat tests only attended, with a cut-off in reach, on equipment you can lose.',
  clearance: 'A lid that stands on its adhesive presses on nothing: measure the gap.',
  die: 'A bare die chips at its edges: level, little by little, and never by one screw.',
  plate: 'A copper plate conducts: cut to size, insulate neighbours; copper on aluminium corrodes where it is damp.',
} as const;

/** Cautions of a material, said where it is applied; data sheets and local rules come first. */
export function cautionsOf(kind: SpecimenKind, sheet: MaterialSheet | null): string[] {
  const cautions: string[] = [];
  if (kind === 'liquid_metal') {
    cautions.push(
      'Liquid metal conducts, runs, and eats aluminium: copper or nickel-plated copper only. Mask neighbours, wear gloves, keep it out of drains.',
      'Discard the first drop of a fresh syringe: trapped air can make it spurt.',
    );
  } else if (kind === 'graphite' || sheet?.conducts) cautions.push('It conducts: cut to size and insulate neighbours.');
  if (kind === 'epoxy') cautions.push('Epoxy irritates skin and is permanent: gloves, and the right coupon in hand before mixing.');
  else if (sheet?.permanent) cautions.push('Permanent: the right coupon in hand before it is applied.');
  if (kind === 'solder') cautions.push('Solder and flux: ventilation, eye protection, and no oven that is used for food.');
  return cautions;
}
