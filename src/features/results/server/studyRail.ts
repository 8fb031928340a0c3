import { analyseMeans } from '#core/compare/analyse';
import type { OutcomeKey } from '#core/compare/outcomes';
import { midSentence } from '#core/text/words';
import { type AxisRange, kelvinRange } from '#core/units/axisRange';
import { marginFor, optionsFor, rowsFor } from '#features/results/model/choice';
import { hasSeveralAges } from '#features/results/model/followed';
import { levelScale } from '#features/results/model/levelScale';
import type { OriginRow } from '#features/study/store/origins';
import { type GatheredStudy, gatherStudy } from './studyResults';

export interface RailSpecimen {
  name: string;
  position: number;
  mean: number | null;
  ci: [number, number] | null;
  /** rise that the plan supposes, K; its mark stands there until it is measured */
  supposed: number | null;
}

/** What stands above every place of a study: its name, its places, and its specimens on one scale of ΔT over ambient. */
export interface StudyRail {
  study: { id: number; title: string; archived: boolean };
  specimens: RailSpecimen[];
  /** the same range as the ladder's */
  range: AxisRange;
  /** K, or °C where the study tells temperatures */
  unit: string;
  words: string;
  about: { coolers: boolean; ageing: boolean };
  notices: { id: number; message: string }[];
  /** where it came from; null where it was measured here */
  origin: Omit<OriginRow, 'lab_scatter'> | null;
  /** every mount with its value, raised as the scale tells it, and what the value is */
  mounts: { mount_id: number; value: number | null; at_or_above: number | null; at_or_below: number | null }[];
  outcome: OutcomeKey;
  /** load it is told for; null where the study has one */
  load: string | null;
}

/** The rail of a study; its means are fitted, and nothing is compared. */
export const studyRail = async (id: number): Promise<StudyRail> => railOf(await gatherStudy(id));

/** The rail of a study that is at hand. */
export function railOf({ study, specimens, facts, choice, level, mounts, reference, notices, origin }: GatheredStudy): StudyRail {
  const means = new Map(analyseMeans(rowsFor(facts, choice), optionsFor(facts, choice, level.confidence)).map((s) => [s.specimen, s]));
  const { plus, unit, name } = levelScale(facts.ambient_school, choice.outcome);
  const raised = (v: number | null | undefined) => (v == null ? null : v + plus);
  const rail = specimens.map((s): RailSpecimen => {
    const known = means.get(s.name);
    const ci: RailSpecimen['ci'] = known?.ci ? [known.ci[0] + plus, known.ci[1] + plus] : null;
    return {
      name: s.name,
      position: s.position,
      mean: raised(known?.mean),
      ci,
      supposed: choice.outcome === 'rise' ? raised(s.plan.rise_k) : null,
    };
  });
  const margin = marginFor(facts, choice.outcome);
  const centre = raised(means.get(reference ?? '')?.mean);
  const range = kelvinRange([
    ...rail.flatMap((s) => (s.mean === null ? (s.supposed ?? []) : [s.mean, ...(s.ci ?? [])])),
    ...mounts.flatMap((m) => raised(m.value) ?? []),
    ...(centre === null ? [] : [centre - margin, centre + margin]),
  ]);
  return {
    ...{
      study: { id: study.id, title: study.title, archived: study.archived_at !== null },
      specimens: rail,
      range,
      unit,
      words: midSentence(name),
    },
    mounts: mounts.map((m) => ({
      ...{ mount_id: m.mount_id, value: raised(m.value ?? m.left_out_value) },
      ...{ at_or_above: raised(m.at_or_above), at_or_below: m.at_or_below ?? null },
    })),
    ...{ outcome: choice.outcome, load: choice.load },
    origin: origin && withoutScatter(origin),
    notices: notices.map(({ id, message }) => ({ id, message })),
    about: { coolers: isAboutCoolers(study.plan), ageing: facts.ages.length > 0 || hasSeveralAges(facts.runs) },
  };
}

/** Does a study have something to show of coolers: coolers or fans that vary, or a crossed design? */
const isAboutCoolers = ({ varies, second_factor, design }: GatheredStudy['study']['plan']): boolean =>
  varies === 'cooler' || varies === 'fan' || second_factor === 'fan' || design === 'two_by_two';

const withoutScatter = ({ lab_scatter: _, ...origin }: OriginRow): StudyRail['origin'] => origin;
