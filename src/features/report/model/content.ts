import type { OutcomeKey } from '#core/compare/outcomes';
import type { Finding } from '#core/compare/types';
import type { Worth } from '#core/compare/worth';
import type { PartCalculator } from '#features/ranking/model/partCalculator';
import type { BeforeAfter } from '#features/results/model/beforeAfter';
import type { StudyBudget } from '#features/results/model/budget';
import type { RunFact } from '#features/results/model/facts';
import type { MountFigure } from '#features/results/model/figures';
import type { Interaction } from '#features/results/model/interactions';
import type { LadderTable } from '#features/results/model/ladderTable';
import type { PartRooms } from '#features/results/model/partRooms';
import type { RestCheck } from '#features/results/model/recommendation';
import type { ReferenceDrift } from '#features/results/model/referenceDrift';
import type { ResultsAnswer } from '#features/results/model/resultsAnswer';
import type { ReportSectionKey } from './reportSections';

/** All that a report says and shows. It stands by itself: a frozen one is drawn from this alone. */
export interface ReportContent {
  format: 1;
  title: string;
  question: string;
  /** when it was put together, ISO 8601 in UTC */
  made_at: string;
  sections: { key: ReportSectionKey; words: string }[];
  held: { what: string; value: string; tolerance: string }[];
  specimens: { name: string; position: number; kind: string; unit: string; planned: number; tries: number; failed: number }[];
  reference: string | null;
  confidence: number;
  look: string;
  answer: ResultsAnswer;
  mounts: MountFigure[];
  interactions: Interaction[];
  before_after: BeforeAfter[];
  /** how every mount climbed its ladder; not there in versions of before it was told */
  ladders?: LadderTable[];
  worth: Worth[];
  /** room of each part to its own limit; not there where the plan states none, nor in versions of before it was told */
  part_rooms?: PartRooms | null;
  /** sensors that have a limit in the plan and are in no log, as a sentence */
  limits_unread?: string | null;
  currency: string | null;
  /** what the worth is told by, and for how many years; not there in versions of before they were told */
  worth_by?: { outcome: OutcomeKey; years: number | null };
  budget: StudyBudget | null;
  drift: ReferenceDrift | null;
  /** what the ranking says on other parts; not there where it says too little, nor in versions of before it was told */
  part?: PartCalculator | null;
  recommendations: { reader: string; words: string; checks: RestCheck[] }[];
  findings: {
    comparison: Finding[];
    /** of how the mounts were made, and of the runs */
    mounts: { specimen: string; mount: number; message: string }[];
    runs: { specimen: string; mount: number; run: number; code: string; severity: string; message: string }[];
    left_out: { specimen: string; mount: number; run: number | null; reason: string; who: string; at: string | null }[];
  };
  runs: (Pick<RunFact, 'specimen' | 'mount' | 'run' | 'day' | 'rig' | 'load' | 'valid'> & {
    rise_k: number | null;
    r_k_per_w: number | null;
    reason: string;
  })[];
  method: { what: string; value: string }[];
}
