import { meanBondLine } from '#core/thermal/dose/dose';
import { type RecordKey, STEP_NAMES, type StepKey } from './stepTypes';
import { LID_FIXINGS, LID_METHODS } from './work';

export const TRY_ENDS = {
  ready: 'Ready for its runs',
  no_start: 'Does not start',
  part_missing: 'Memory or a device is missing',
  tilted: 'Sits tilted',
  leaked: 'Leaked',
  too_hot: 'Too hot',
  spread: 'Wide spread, hot corner',
  remounted: 'Lifted and remounted',
} as const;
export type AttemptOutcome = keyof typeof TRY_ENDS;

/** What was done and written down at one step. Moments are ISO 8601 in UTC. */
export interface StepState {
  done_at?: string | null;
  acknowledged_at?: string | null;
  /** why one went on in spite of a hard stop */
  stop_reason?: string | null;
  timer_from?: string | null;
  /** places in the rig's take-apart list that are done */
  ticks?: number[];
  /** what became of each interface that the lift separated */
  interfaces?: Record<string, InterfaceState>;
  records?: Partial<Record<RecordKey, string | number | null>>;
}

export const INTERFACES = { renewed: 'Renewed', reused: 'Used again', inspected: 'Inspected, left as it is' } as const;
export type InterfaceState = keyof typeof INTERFACES;

export type StepStates = Partial<Record<StepKey, StepState>>;

interface RecordField {
  label: string;
  unit: string;
  kind: 'number' | 'text' | 'choice';
  min?: number;
  max?: number;
  choices?: Record<string, string>;
  /** characters of a text, 500 where nothing is said */
  most?: number;
}

export const RECORDS: Record<RecordKey, RecordField> = {
  lot: { label: 'Lot', unit: '', kind: 'text' },
  part_a_mg: { label: 'Part A', unit: 'mg', kind: 'number', min: 0, max: 1e7 },
  part_b_mg: { label: 'Part B', unit: 'mg', kind: 'number', min: 0, max: 1e7 },
  mass_before_mg: { label: 'Tube before', unit: 'mg', kind: 'number', min: 0, max: 1e7 },
  mass_after_mg: { label: 'Tube after', unit: 'mg', kind: 'number', min: 0, max: 1e7 },
  heights: { label: 'Heights, as read', unit: '', kind: 'text', most: 4000 },
  heights_after: { label: 'Heights after each pass', unit: '', kind: 'text', most: 4000 },
  gaps: { label: 'Gaps of the neighbours', unit: '', kind: 'text', most: 2000 },
  held_off: { label: 'Held off', unit: '', kind: 'text' },
  pattern: { label: 'Pattern', unit: '', kind: 'text' },
  torque_nm: { label: 'Torque', unit: 'N·m', kind: 'number', min: 0, max: 50 },
  screws: { label: 'Order and rounds', unit: '', kind: 'text' },
  room_c: { label: 'Room', unit: '°C', kind: 'number', min: -60, max: 90 },
  outcome: { label: 'What it showed', unit: '', kind: 'text' },
  cycles: { label: 'Cycles made', unit: '', kind: 'number', min: 0, max: 10_000 },
  note: { label: 'Note', unit: '', kind: 'text' },
  minutes: { label: 'Took', unit: 'min', kind: 'number', min: 0, max: 10_000 },
  escaped: { label: 'Liquid metal that escaped, and where', unit: '', kind: 'text' },
  lint: { label: 'Lint', unit: '', kind: 'text' },
  seal: { label: 'Dam or seal', unit: '', kind: 'text' },
  lid_method: { label: 'By', unit: '', kind: 'choice', choices: LID_METHODS },
  temperature_c: { label: 'Hottest', unit: '°C', kind: 'number', min: 0, max: 500 },
  residue: { label: 'Adhesive and solder removed with', unit: '', kind: 'text' },
  abrasive: { label: 'Abrasives, coarse to fine', unit: '', kind: 'text' },
  cracks: { label: 'Cracks seen', unit: '', kind: 'text' },
  lid_fixing: { label: 'Lid is', unit: '', kind: 'choice', choices: LID_FIXINGS },
  adhesive_gap_um: { label: 'Adhesive gap', unit: 'µm', kind: 'number', min: 0, max: 5000 },
  higher: { label: 'Stands higher than the die', unit: '', kind: 'text' },
  clearance_mm: { label: 'Clearance left', unit: 'mm', kind: 'number', min: -5, max: 50 },
  hold_down: { label: 'Hold-down', unit: '', kind: 'text' },
  pressure_from: { label: 'Pressure comes from', unit: '', kind: 'text' },
  insulation: { label: 'Insulated with', unit: '', kind: 'text' },
  pressed_at: { label: 'Pressed at', unit: '', kind: 'text' },
};

const MOST_TEXT = 500;

/** What is wrong with a record, as a sentence; null where it can be stored. */
export function recordProblem(key: RecordKey, value: unknown, states: StepStates): string | null {
  const field = RECORDS[key];
  if (value === null || value === undefined || value === '') return null;
  if (field.kind === 'text') {
    if (typeof value !== 'string') return `${field.label} is a text.`;
    const most = field.most ?? MOST_TEXT;
    return value.length > most ? `${field.label} holds up to ${most} characters.` : null;
  }
  if (field.kind === 'choice') {
    const choices = field.choices ?? {};
    return typeof value === 'string' && Object.hasOwn(choices, value)
      ? null
      : `${field.label} is one of ${Object.values(choices).join(', ')}.`;
  }
  if (typeof value !== 'number' || !Number.isFinite(value)) return `${field.label} is a number${field.unit ? ` in ${field.unit}` : ''}.`;
  if (value < (field.min ?? Number.NEGATIVE_INFINITY) || value > (field.max ?? Number.POSITIVE_INFINITY))
    return `${field.label} should be between ${field.min} and ${field.max}${field.unit ? ` ${field.unit}` : ''}.`;
  const before = recordOf(states, 'mass_before_mg');
  if (key === 'mass_after_mg' && before !== null && value > before)
    return `The tube weighs more after (${value} mg) than before (${before} mg); it should weigh less. Were they taken in the other order?`;
  return null;
}

/** A number written down at any step; null where none is. */
export function recordOf(states: StepStates, key: RecordKey): number | null {
  for (const step of Object.values(states)) {
    const value = step?.records?.[key];
    if (typeof value === 'number') return value;
  }
  return null;
}

export interface AmountUsed {
  mass_mg: number;
  /** null without a density */
  volume_mm3: number | null;
  /** mean bond line if all of it stayed, µm; null without density or area */
  bond_line_um: number | null;
}

/** Amount by weighing the tube before and after. */
export function amountUsed(states: StepStates, density_g_per_cm3: number | null, area_mm2: number | null): AmountUsed | null {
  const before = recordOf(states, 'mass_before_mg');
  const after = recordOf(states, 'mass_after_mg');
  if (before === null || after === null || after > before) return null;
  const mass = before - after;
  return {
    mass_mg: mass,
    volume_mm3: density_g_per_cm3 === null ? null : mass / density_g_per_cm3,
    bond_line_um: density_g_per_cm3 === null || area_mm2 === null ? null : meanBondLine(mass, area_mm2, density_g_per_cm3),
  };
}

/** Reads what was sent for one step; the rest of the attempt is left as it is. */
export function readStep(
  key: unknown,
  given: unknown,
  states: StepStates,
): { key: StepKey; state: StepState } | { problem: string; field?: string } {
  if (typeof key !== 'string' || !Object.hasOwn(STEP_NAMES, key)) return { problem: 'There is no such step.' };
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return { problem: 'A step is an object with what was done.' };
  const { done_at, acknowledged_at, stop_reason, timer_from, ticks, interfaces, records } = given as Record<string, unknown>;
  const state: StepState = {};
  for (const [name, moment] of Object.entries({ done_at, acknowledged_at, timer_from })) {
    if (moment === undefined) continue;
    if (moment !== null && (typeof moment !== 'string' || !/^\d{4}-\d\d-\d\dT[\d:.]+Z$/.test(moment) || Number.isNaN(Date.parse(moment))))
      return { problem: 'Times are in UTC, such as 2026-06-02T09:30:00Z.', field: name };
    Object.assign(state, { [name]: moment });
  }
  if (stop_reason !== undefined) {
    if (stop_reason !== null && (typeof stop_reason !== 'string' || stop_reason.trim() === '' || stop_reason.length > MOST_TEXT))
      return { problem: `Say in 1 to ${MOST_TEXT} characters why you go on anyway.`, field: 'stop_reason' };
    state.stop_reason = stop_reason;
  }
  if (ticks !== undefined) {
    if (!Array.isArray(ticks) || ticks.length > 100 || !ticks.every((t) => Number.isInteger(t) && t >= 0 && t < 1000))
      return { problem: 'Ticks are places in the take-apart list.', field: 'ticks' };
    state.ticks = [...new Set(ticks as number[])];
  }
  if (interfaces !== undefined) {
    const entries = typeof interfaces === 'object' && interfaces !== null ? Object.entries(interfaces) : [];
    if (
      entries.length > 40 ||
      !entries.every(([name, how]) => name.length <= 80 && typeof how === 'string' && Object.hasOwn(INTERFACES, how))
    )
      return { problem: `An interface is one of ${Object.keys(INTERFACES).join(', ')}.`, field: 'interfaces' };
    state.interfaces = Object.fromEntries(entries);
  }
  if (records !== undefined) {
    if (typeof records !== 'object' || records === null || Array.isArray(records)) return { problem: 'Records are an object by field.' };
    for (const [field, value] of Object.entries(records)) {
      if (!Object.hasOwn(RECORDS, field)) return { problem: `A step has no record ${field}.` };
      const own = { ...states, [key]: { ...states[key as StepKey], records: { ...states[key as StepKey]?.records, ...records } } };
      const problem = recordProblem(field as RecordKey, value, own as StepStates);
      if (problem) return { problem, field };
    }
    state.records = records as StepState['records'];
  }
  return { key: key as StepKey, state };
}
