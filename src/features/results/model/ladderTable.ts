import { highestClock, ladderVoltages, type StepEnd, type TriedStep } from '#core/stability/ladder';
import { write } from '#core/text/words';
import type { StudyFacts } from './facts';

/** One climb of one mount. */
export interface ClimbRow {
  specimen: string;
  mount: number;
  mount_id: number;
  run: number;
  run_id: number;
  /** how each step of the table ended; null where it was not tried */
  ends: (StepEnd | null)[];
  /** temperature that was read at each step, °C */
  temperatures: (number | null)[];
  /** how far it came at each voltage, in words */
  reached: string[];
  /** highest clock at each voltage, MHz; null where none passed */
  clocks: { voltage_v: number | null; clock_mhz: number | null }[];
  left_out: boolean;
}

/** How every mount climbed the ladder of a load. */
export interface LadderTable {
  load: string | null;
  /** all steps that were tried, by voltage and clock */
  steps: Pick<TriedStep, 'clock_mhz' | 'voltage_v'>[];
  voltages: (number | null)[];
  rows: ClimbRow[];
}

/** The ladders of a study, a table a load; empty where none was climbed. */
export function ladderTables(facts: Pick<StudyFacts, 'runs' | 'loads' | 'specimens'>): LadderTable[] {
  const climbed = facts.runs.filter((r) => r.ladder);
  const loads = [...new Set(climbed.map((r) => r.load ?? facts.loads[0] ?? null))];
  return loads.map((load) => {
    const runs = climbed.filter((r) => (r.load ?? facts.loads[0] ?? null) === load);
    const tried = runs.flatMap((r) => r.ladder ?? []);
    const voltages = ladderVoltages(tried);
    const steps = voltages.flatMap((voltage_v) =>
      [...new Set(tried.filter((s) => s.voltage_v === voltage_v).map((s) => s.clock_mhz))]
        .sort((a, b) => a - b)
        .map((clock_mhz) => ({ clock_mhz, voltage_v })),
    );
    const rows = runs.map((r): ClimbRow => {
      const own = r.ladder ?? [];
      const at = steps.map((s) => own.find((o) => o.clock_mhz === s.clock_mhz && o.voltage_v === s.voltage_v) ?? null);
      return {
        ...{ specimen: r.specimen, mount: r.mount, mount_id: r.mount_id, run: r.run, run_id: r.run_id },
        ...{ ends: at.map((s) => s?.end ?? null), temperatures: at.map((s) => s?.temperature_c ?? null) },
        reached: voltages.map((v) => reachedWords(own, v)),
        clocks: voltages.map((v) => ({ voltage_v: v, clock_mhz: highestClock(own, v)?.value ?? null })),
        left_out: r.mount_reason !== null || r.run_reason !== null,
      };
    });
    return { load: facts.loads.length > 1 ? load : null, steps, voltages, rows };
  });
}

/** How far a ladder was climbed at a voltage, such as "2150 MHz" or "at least 2300 MHz". */
export function reachedWords(steps: TriedStep[], voltage_v: number | null): string {
  const reached = highestClock(steps, voltage_v);
  if (!reached) return 'not tried';
  if (reached.value === null) return `below ${write(reached.short_of ?? 0, 0)} MHz`;
  return `${reached.beyond ? 'at least ' : ''}${write(reached.value, 0)} MHz`;
}
