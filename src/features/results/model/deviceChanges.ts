import { compareDevices, type DeviceChanges, type DeviceRow, type RunError } from '#core/compare/devices';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { mean, sumOfSquares } from '#core/stats/moments';
import { plural, write, writeSigned } from '#core/text/words';
import { rowsFor } from './choice';
import type { ResultsChoice, StudyFacts } from './facts';
import { mountFigures } from './figures';

/** A state of one device in one outcome: mean of its mounts, or a bound where none has a value. */
export interface DeviceState {
  mean: number | null;
  at_or_above: number | null;
  mounts: number;
}

/** One device in one outcome under one load. */
export interface DeviceCell {
  device: string;
  before: DeviceState;
  after: DeviceState;
  /** after − before; null where one of them has no value */
  change: number | null;
  /** holds for all devices together; null where no scatter of mounts is known */
  ci: [number, number] | null;
}

/** One outcome under one load over all devices, with what can be said of it. */
export interface DeviceTable {
  outcome: OutcomeKey;
  load: string | null;
  cells: DeviceCell[];
  sentences: string[];
  /** true for what the plan asks for, which is told first; not there in versions of before it was told apart */
  planned?: boolean;
}

/** Rigs on which a state was run. */
const devicesOf = (facts: StudyFacts, states: string[]): string[] =>
  [...new Set(facts.runs.map((r) => r.rig))].filter((rig) =>
    states.every((s) => facts.runs.some((r) => r.rig === rig && r.specimen === s)),
  );

/** One change over several devices in each outcome under each load; empty where it was made to one device alone. */
export function deviceTables(
  facts: StudyFacts,
  before: string,
  after: string,
  outcomes: OutcomeKey[],
  choice: ResultsChoice,
): DeviceTable[] {
  const devices = devicesOf(facts, [before, after]);
  if (devices.length < 2) return [];
  const loads = facts.loads.length > 1 ? facts.loads : [null];
  const asked = new Set<OutcomeKey>([facts.main_outcome, ...(Object.keys(facts.margins) as OutcomeKey[])]);
  return loads.flatMap((load) =>
    outcomes.flatMap((outcome) => {
      const looked = { ...choice, outcome, load };
      const cells = cellsOf(facts, looked, devices, before, after);
      if (cells.every((c) => c.before.mean === null && c.after.mean === null && c.before.at_or_above === null)) return [];
      const told = compareDevices(rowsOf(facts, looked, before, after), facts.confidence, runError(facts, looked, before));
      for (const cell of cells) {
        const known = told?.each.find((e) => e.device === cell.device);
        cell.change = known?.change ?? null;
        // where all mounts read the same there is no interval
        cell.ci = told?.within_sd === 0 ? null : (known?.ci_all_devices ?? null);
      }
      return [{ outcome, load, cells, sentences: told ? sentencesOf(told, outcome, cells.length) : [], planned: asked.has(outcome) }];
    }),
  );
}

function rowsOf(facts: StudyFacts, choice: ResultsChoice, before: string, after: string): DeviceRow[] {
  const rigs = new Map(facts.runs.map((r) => [r.mount_id, r.rig]));
  return mountFigures(facts, choice).flatMap((m): DeviceRow[] =>
    m.value === null || (m.specimen !== before && m.specimen !== after)
      ? []
      : [{ device: rigs.get(m.mount_id) ?? '', state: m.specimen === before ? 'before' : 'after', value: m.value }],
  );
}

function cellsOf(facts: StudyFacts, choice: ResultsChoice, devices: string[], before: string, after: string): DeviceCell[] {
  const figures = mountFigures(facts, choice);
  const rigs = new Map(facts.runs.map((r) => [r.mount_id, r.rig]));
  const state = (device: string, specimen: string): DeviceState => {
    const own = figures.filter((m) => m.specimen === specimen && rigs.get(m.mount_id) === device);
    const values = own.flatMap((m) => m.value ?? []);
    const bounds = own.flatMap((m) => m.at_or_above ?? []);
    return {
      mean: values.length > 0 ? mean(values) : null,
      at_or_above: values.length === 0 && bounds.length > 0 ? Math.max(...bounds) : null,
      mounts: values.length,
    };
  };
  return devices.map((device) => ({ device, before: state(device, before), after: state(device, after), change: null, ci: null }));
}

/** The error of runs of a state that was declared not to come back; null where it can be mounted again. */
function runError(facts: StudyFacts, choice: ResultsChoice, before: string): RunError | null {
  if (!facts.specimens.find((s) => s.name === before)?.fixed) return null;
  const values = new Map<string, { rig: string; specimen: string; runs: number[] }>();
  for (const r of rowsFor(facts, choice)) {
    if (!r.valid || r.excluded) continue;
    const key = `${r.mount}\n${r.specimen}`;
    const mount = values.get(key) ?? { rig: r.rig ?? '', specimen: r.specimen, runs: [] };
    mount.runs.push(r.value);
    values.set(key, mount);
  }
  const repeated = [...values.values()].filter((m) => m.runs.length > 1);
  const df = repeated.reduce((sum, m) => sum + m.runs.length - 1, 0);
  const runs: Record<string, number> = {};
  for (const m of values.values()) if (m.specimen === before) runs[m.rig] = (runs[m.rig] ?? 0) + m.runs.length;
  return { sd: df === 0 ? 0 : Math.sqrt(repeated.reduce((sum, m) => sum + sumOfSquares(m.runs), 0) / df), df, runs };
}

/** What can be said over the devices, each only where it exists. */
function sentencesOf(told: DeviceChanges, outcome: OutcomeKey, devices: number): string[] {
  const { digits, unit } = OUTCOMES[outcome];
  const figure = (v: number) => `${writeSigned(v, digits)} ${unit}`;
  const span = ([lo, hi]: [number, number]) => `${writeSigned(lo, digits)} to ${writeSigned(hi, digits)}`;
  const { these_devices: these, differs_by_device: differs, devices_like_these: like } = told;
  const sentences: string[] = [];
  if (like?.sd === 0) {
    sentences.push(
      `All ${told.each.length} devices changed by ${figure(like.change)} to the last digit: no interval can be given; a finer reading would show how they differ.`,
    );
  }
  if (these && these.se > 0 && told.each.length > 1) {
    const whether = !differs
      ? ''
      : differs.p < 0.05
        ? ` The devices differ in it (p = ${write(differs.p, 3)}).`
        : ` No difference between the devices is shown (p = ${write(differs.p, 2)}).`;
    sentences.push(
      `Mean over these ${told.each.length} devices: ${figure(these.change)} (95 % ${span(these.ci)}), by the scatter of their mounts.${whether}`,
    );
  }
  if (like && like.sd > 0)
    sentences.push(
      `Mean over devices like these: ${figure(like.change)} (95 % ${span(like.ci)}); the next device is expected within ${span(like.prediction)} ${unit}.`,
    );
  if (told.each.every((e) => e.ci_all_devices === null) && like?.sd !== 0) {
    sentences.push(
      like && like.sd > 0
        ? 'No device has two mounts of a state: the uncertainty of a single device’s change is not known.'
        : `Changes only, without intervals: with one mount of each state and ${plural(told.each.length, 'device')}, chance cannot be excluded. Two mounts of a state on one device, or a third device, would tell.`,
    );
  }
  if (told.each.length < devices) {
    const left = devices - told.each.length;
    sentences.push(
      `${plural(left, 'device has', 'devices have')} no value in one of the states and ${left === 1 ? 'is' : 'are'} not in the means.`,
    );
  }
  return sentences;
}

/** The table of all devices as rows, for a spreadsheet. */
export function deviceRows(tables: DeviceTable[], before: string, after: string): (string | number | null)[][] {
  const figure = (s: DeviceState) => (s.mean !== null ? s.mean : s.at_or_above !== null ? `>= ${s.at_or_above}` : null);
  return [
    ['device', 'load', 'outcome', 'unit', before, 'mounts_before', after, 'mounts_after', 'change', 'ci_low', 'ci_high'],
    ...tables.flatMap((t) =>
      t.cells.map((c) => [
        ...[c.device, t.load, OUTCOMES[t.outcome].name, OUTCOMES[t.outcome].unit],
        ...[figure(c.before), c.before.mounts, figure(c.after), c.after.mounts, c.change, c.ci?.[0] ?? null, c.ci?.[1] ?? null],
      ]),
    ),
  ];
}
