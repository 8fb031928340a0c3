import type { LogOptions } from '#core/signal/logs/types';
import type { Performance, ReduceOptions } from '#core/signal/reduce/types';
import type { LabHistory } from '#features/study/model/context';

/** Format of study.json; a program refuses a newer one. */
export const STUDY_FORMAT = 'warm-gauge-study';
export const STUDY_VERSION = 1;

/** A sheet of the shelf as it was when the package was made. */
export interface PackagedSheet {
  id: number;
  name: string;
  sheet: Record<string, unknown>;
  version: number;
}

/** How a run was read; what it gave stands in the tables. */
export interface PackagedRun {
  id: number;
  /** by which a repetition of its import is known */
  import_id: string;
  /** columns, units and times of its files */
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  /** seconds added to the times of each further file */
  clock_offset_s: Record<string, number>;
  /** what was typed, of a run that was read from a display */
  typed: object | null;
  /** the reading by itself, where a person set the window */
  automatic: object | null;
  /** figures of the program's own results that the comparison takes */
  program: Partial<Performance> | null;
  /** results that programs wrote, as they came */
  results: { sha256: string; comparable: boolean; added_at: string }[];
}

/** study.json: everything of a study that is no table. */
export interface StudyDocument {
  format: typeof STUDY_FORMAT;
  version: typeof STUDY_VERSION;
  program: { name: string; version: string };
  /** who measured it; empty where that is not said */
  lab: string;
  study: {
    id: number;
    title: string;
    question: string;
    margin_k: number;
    confidence: number;
    scatter: 'auto' | 'pooled' | 'separate' | 'strict';
    reduction: Partial<ReduceOptions>;
    plan: Record<string, unknown>;
    created_at: string;
    archived_at: string | null;
    /** how often the plan was changed, and at which change each part of it */
    plan_version: number;
    plan_stamps: Record<string, unknown>;
  };
  specimens: { id: number; material_id: number | null; cooler_id: number | null; plan: Record<string, unknown> }[];
  /** records of each step, by try */
  tries: { id: number; steps: Record<string, unknown>; work: string[] }[];
  runs: PackagedRun[];
  /** how the prints in photographs were read, and what they show */
  prints: { photograph_id: number; reading: Record<string, unknown>; figures: Record<string, unknown> }[];
  /** how the report is put together; null where nobody changed it */
  report_draft: unknown[] | null;
  shelf: Record<'materials' | 'coolers' | 'fans' | 'instruments', PackagedSheet[]> & {
    rigs: (PackagedSheet & { parts: unknown[]; teardown: unknown[] })[];
  };
  comparison: {
    /** with which verdicts are judged: higher than the study's own at an interim analysis */
    confidence: number;
    /** the lab's own scatter by kind, which a specimen of one mount is judged by */
    lab_scatter: LabHistory[];
    /** numbers of mounts at which the verdicts of all planned mounts had been seen */
    verdicts_shown: number[];
  };
}

/** JSON with its keys in order, so that the same state writes the same bytes. */
export const orderedJson = (value: unknown): string =>
  `${JSON.stringify(
    value,
    (_, v) =>
      typeof v === 'object' && v !== null && !Array.isArray(v) && !(v instanceof Date)
        ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
        : v,
    1,
  )}\n`;
