import type { Finding } from '#core/compare/types';
import { write } from '#core/text/words';
import { partnerOf } from './amounts';
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
  /** A to B of a mix, as its sheet says it */
  mixing_ratio?: string;
  /** hours that it cures before its first start */
  cure_h?: number | null;
  /** what is wrong with the cuts */
  cut_problems?: string[];
}

/** A mix may be off its ratio by this share. */
const RATIO_OFF = 0.05;

/** What of a mount a reader of its runs should know. */
export function mountFindings(setting: MountFindingSetting): Finding[] {
  const { states, steps, stops, neighbours, torque_max_nm, cycles, pot_life_min } = setting;
  const findings: Finding[] = [];
  const add = (code: string, message: string, severity: Finding['severity'] = 'warn') => findings.push({ code, severity, message });
  const placed = Boolean(states.place?.done_at);
  const untold = neighbours.filter((n) => !states.place?.interfaces?.[n]);
  if (placed && untold.length > 0) {
    add(
      'interface_not_told',
      `The lift also separated ${untold.join(', ')}; whether ${untold.length === 1 ? 'that interface was' : 'those interfaces were'} renewed, used again or inspected is not recorded.`,
    );
  }
  const reused = neighbours.filter((n) => states.place?.interfaces?.[n] === 'reused');
  if (reused.length > 0)
    add(
      'interface_reused',
      `Used again after the lift: ${reused.join(', ')}. A pad that was compressed before behaves differently.`,
      'note',
    );
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
  for (const problem of setting.cut_problems ?? []) add('cut_wrong', problem);
  const [a, b] = [recordOf(states, 'part_a_mg'), recordOf(states, 'part_b_mg')];
  const partner = a === null ? null : partnerOf(setting.mixing_ratio, a);
  if (partner !== null && b !== null && Math.abs(b / partner - 1) > RATIO_OFF + 1e-9)
    add(
      'ratio_off',
      `${a} mg of A take ${write(partner, partner < 10 ? 1 : 0)} mg of B; ${b} mg were weighed. A mix off its ratio may not cure.`,
    );
  const started = states.first_start?.done_at;
  const placedAt = states.place?.done_at;
  if (setting.cure_h != null && started && placedAt) {
    const hours = (Date.parse(started) - Date.parse(placedAt)) / 3_600_000;
    if (hours < setting.cure_h) add('not_cured', `Started ${write(hours, 1)} h after it was placed; it cures in ${setting.cure_h} h.`);
  }
  for (const stop of stops) {
    const reason = states[stop.step]?.stop_reason;
    if (reason) add('stop_passed', `${stop.message} Done anyway: ${reason}`);
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
