import { PLAN_DEFAULTS } from './planDefaults';
import type { SpecimenPlan } from './specimenPlan';
import type { StudyPlan } from './studyPlan';

/**
 * Is a specimen a state as it was found, which cannot be mounted again? It says so itself, or it is the reference of a before and after of
 * states. It is measured before anything is opened, once on each device.
 */
export const isAsFound = (
  study: Pick<StudyPlan, 'design' | 'varies' | 'reference_id'>,
  specimen: { id: number; plan: Pick<SpecimenPlan, 'fixed'> },
): boolean =>
  specimen.plan.fixed ??
  (study.design === 'before_after' && (study.varies ?? PLAN_DEFAULTS.varies) === 'state' && specimen.id === study.reference_id);

/** Devices that a before and after crosses with its states: its rigs, where it has several. One where states are not crossed. */
export const crossedDevices = ({ design, rigs }: Pick<StudyPlan, 'design' | 'rigs'>): number =>
  design === 'before_after' ? Math.max(1, rigs?.length ?? 0) : 1;
