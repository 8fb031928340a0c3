import type { Finding } from '#core/compare/types';
import { recordOf, type StepStates } from './attempt';
import type { HardStop } from './steps';
import type { MountStep } from './stepTypes';

export interface MountFindingSetting {
  states: StepStates;
  steps: MountStep[];
  stops: HardStop[];
  /** parts whose interfaces a lift of the cooler separates */
  neighbours: string[];
  /** most that the rig's screws take, N·m */
  torque_max_nm: number | null;
  /** cycles that the material's sheet asks for */
  cycles: number | null;
  pot_life_min: number | null;
}

/** What of a mount a reader of its runs should know. */
export function mountFindings({ states, steps, stops, neighbours, torque_max_nm, cycles, pot_life_min }: MountFindingSetting): Finding[] {
  const findings: Finding[] = [];
  const add = (code: string, message: string, severity: Finding['severity'] = 'warn') => findings.push({ code, severity, message });
  const placed = Boolean(states.place?.done_at);
  const untold = neighbours.filter((n) => !states.place?.interfaces?.[n]);
  if (placed && untold.length > 0) {
    add(
      'interface_not_told',
      `The lift also separated ${untold.join(', ')}; whether ${untold.length === 1 ? 'that interface was' : 'those interfaces were'} renewed, used again or inspected is not told.`,
    );
  }
  const reused = neighbours.filter((n) => states.place?.interfaces?.[n] === 'reused');
  if (reused.length > 0)
    add('interface_reused', `Used again after the lift: ${reused.join(', ')}. A pad that was pressed before presses otherwise.`, 'note');
  const held = Object.values(states).flatMap((s) => s?.records?.held_off ?? []);
  for (const message of held) if (message) add('held_off', String(message));
  const torque = recordOf(states, 'torque_nm');
  if (torque !== null && torque_max_nm !== null && torque > torque_max_nm) add('torque_above', torqueSentence(torque, torque_max_nm));
  const made = recordOf(states, 'cycles');
  if (cycles !== null && made !== null && made < cycles)
    add('not_conditioned', `${made} of ${cycles} conditioning cycles were made: measured too early it looks worse than it is.`);
  const { timer_from } = states.prepare ?? {};
  const applied = states.apply?.done_at;
  if (pot_life_min !== null && timer_from && applied) {
    const took = (Date.parse(applied) - Date.parse(timer_from)) / 60_000;
    if (took > pot_life_min) add('pot_life_over', `Applied ${Math.round(took)} min after mixing; the pot life is ${pot_life_min} min.`);
  }
  for (const stop of stops) {
    const reason = states[stop.step]?.stop_reason;
    if (reason) add('stop_passed', `${stop.message} Done all the same: ${reason}`);
  }
  for (const { key } of steps) {
    const cracks = states[key]?.records?.cracks;
    if (key === 'lap' && typeof cracks === 'string' && !/^(no|none|0)\b/i.test(cracks))
      add('cracks_seen', `Cracks after lapping: ${cracks}.`);
  }
  return findings;
}

export const torqueSentence = (torque: number, most: number): string =>
  `${torque} N·m is above the ${most} N·m that the rig’s screws take: too tight can bend the board or keep it from starting.`;
