import type { ReduceOptions } from '#core/signal/reduce/types';
import type { SpecimenKind } from '#features/shelf/model/materials';
import type { SpecimenPlan } from '#features/study/model/specimenPlan';
import type { StudyPlan } from '#features/study/model/studyPlan';
import type { SimulatedRig } from '#simulator/rigs';
import type { SimulatedRun } from '#simulator/simulateRun';

interface DemoSpecimen {
  name: string;
  kind: SpecimenKind;
  /** names of its sheets on the shelf */
  material?: string;
  cooler?: string;
  plan?: SpecimenPlan;
}

/** A study of the demo, with what its plan says; rigs are named, the first is the one its runs are made on. */
export interface DemoStudy {
  title: string;
  question: string;
  margin_k: number;
  reduction: Partial<ReduceOptions>;
  rigs: string[];
  specimens: DemoSpecimen[];
  plan: StudyPlan;
}

/** A run of the demo, to be simulated, written as a log and imported. */
export interface DemoRun {
  specimen: string;
  mount: number;
  run: number;
  file: string;
  note: string;
  /** rig that its mount stands on, and the load it ran under, where the study has several */
  on?: string;
  load?: string;
  /** seconds since 1970 of the log's first sample */
  start: number;
  rig: SimulatedRig;
  simulated: SimulatedRun;
  /** whether the program's score comes along, which goes with the clock */
  scored?: boolean;
}
