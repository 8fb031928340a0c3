import { StudyPlan } from '#features/study/model/studyPlan';
import { check } from '#rules/validation';
import type { DemoStudy } from './demoStudy';
import STUDIES from './studies.json' with { type: 'json' };

/** The studies of the workshop with their plans: what the tester supposed is in them, what is true is where their runs are made. */
const planned = (key: keyof typeof STUDIES): DemoStudy => {
  const study = STUDIES[key] as Omit<DemoStudy, 'plan'>;
  return {
    ...study,
    plan: Object.fromEntries(Object.entries(check(StudyPlan, STUDIES[key].plan)).filter(([, said]) => said !== undefined)),
  };
};

export const EIGHT_MATERIALS = planned('eight_materials');
/** The study that is half way through. */
export const SOUTH_HUT = planned('south_hut');
/** The card that throttled in the hut: measured as found, refurbished, measured again. */
export const HUT_CARD = planned('hut_card');
/** Four coolers over their fan speeds, each mount a sweep with a sound meter beside it. */
export const COOLERS_AT_NOISE = planned('coolers_at_noise');
/** Two towers, each with two fans. */
export const TWO_TOWERS = planned('two_towers');
/** Two materials followed over sixty days, every mount left as it is between its measurements. */
export const SIXTY_DAYS = planned('sixty_days');
/** Three cards before and after, each under two loads. */
export const THREE_CARDS = planned('three_cards');
/** One lid before and after it was lapped flat. */
export const LAPPED_LID = planned('lapped_lid');
/** Five of the materials under the loop, which presses harder: the pad does better there than elsewhere. */
export const UNDER_LOOP = planned('under_loop');
/** Four of the materials under the flat cooler at a smaller load. */
export const FLAT_COOLER = planned('flat_cooler');
