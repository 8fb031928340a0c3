import type { SectionKey } from '#features/shelf/model/sections';
import { Maybe, Text, ValuesIn, YesNo } from '#rules/rules';

/** Ways to bring in a sheet that goes by the name of one that is here. */
export const WAYS = { mine: 'Use mine', theirs: 'Take theirs over mine', both: 'Keep both' } as const;
export type Way = keyof typeof WAYS;

/** What a person decided about a package that comes in. */
export class ArrivalChoices {
  /** by section and number there, such as materials/3 */
  @Maybe(ValuesIn(Object.keys(WAYS)))
  sheets?: Record<string, Way>;

  /** measured by this lab on another machine: it counts as its own */
  @Maybe(YesNo('Say whether the study is your own.'))
  own?: boolean;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;
}

/** Order in which sheets come in: what others refer to first. */
export const ARRIVING_SECTIONS = ['fans', 'materials', 'instruments', 'coolers', 'rigs'] as const satisfies SectionKey[];

/** A sheet of a package, and the one here that goes by its name. */
export interface ArrivingSheet {
  /** by which a choice names it */
  key: string;
  section: SectionKey;
  name: string;
  /** null where none here has the name */
  mine: { id: number; name: string; archived: boolean; differs: string[] } | null;
  /** what is done where nothing else is chosen */
  way: Way;
}

/** What a package would bring, told before anything is stored. */
export interface ArrivalPreview {
  title: string;
  /** under which it comes, as another study has its title */
  titled: string;
  question: string;
  lab: string;
  program: string;
  created: string;
  bytes: number;
  counts: { specimens: number; mounts: number; runs: number; photographs: number; reports: number };
  /** photographs that were left out of the package */
  photographs_left_out: number;
  sheets: ArrivingSheet[];
  /** proposed, as the lab has the name of this one */
  own: boolean;
  /** why it cannot come in, a sentence each; empty where it can */
  problems: string[];
}

/** A study that came in. */
export interface ArrivedStudy {
  study_id: number;
  title: string;
  runs: number;
  pairs: number;
  /** where what was computed here differs from what the package says */
  differences: string[];
  unchecked: string[];
}
