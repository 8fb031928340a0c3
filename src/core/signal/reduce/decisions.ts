import type { Finding } from '#core/compare/types';
import { ambientProbes } from '#core/signal/trace/rise';
import { type Trace, usable } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import { toBase } from '#core/units/units';
import type { Alternative, Reduction } from './types';

/** Decisions that a room typed by a person settles. */
export const ROOM_DECISIONS = ['ambient_frozen', 'ambient_disagree', 'ambient_gaps', 'ambient_on_part', 'rise_impossible', 'unit_suspect'];
/** Codes of all findings that wait for a person. */
export const DECISION_CODES = [...ROOM_DECISIONS, 'rows_left_out', 'clock_step', 'power_differs', 'sensors_differ'];
/** Decisions that leave the resistance as it is: power that differs enters it. */
const RESISTANCE_STANDS = ['power_differs'];

/** Findings with those that a person accepted made mere warnings. */
export const acceptFindings = (findings: Finding[], accepted: string[]): Finding[] =>
  findings.map((f) =>
    f.severity === 'decide' && accepted.includes(f.code) ? { ...f, severity: 'warn', message: `${f.message} Accepted by decision.` } : f,
  );

/** Codes that still need a person's decision, each once. */
export const openDecisions = (findings: Finding[]): string[] => [
  ...new Set(findings.filter((f) => f.severity === 'decide').map((f) => f.code)),
];

/** Whether a resistance may enter a comparison while decisions are open. */
export const resistanceStands = (decision: string[]): boolean => decision.every((code) => RESISTANCE_STANDS.includes(code));

/**
 * What the value would be under the ways to decide: without each probe of the room, and with a room that reads like °F taken for it.
 * @param again reduces a changed trace
 */
export function alternativesOf(trace: Trace, decision: string[], again: (trace: Trace) => Reduction): Alternative[] {
  const probes = ambientProbes(trace);
  const out: Alternative[] = [];
  if (probes.length > 1 && decision.some((d) => d.startsWith('ambient_') || d === 'rise_impossible')) {
    for (const p of probes) {
      const others = probes.filter((o) => o !== p).map((o) => o.name);
      out.push({ without: p.name, with: null, rise_k: again({ ...trace, room: { ...trace.room, probes: others } }).rise_k });
    }
  }
  if (decision.includes('unit_suspect')) {
    const asF = (names: string[], what: string) => {
      const channels = trace.channels.map((c) => {
        if (!names.includes(c.name)) return c;
        const values = c.values.map((v) => toBase(v, 'degF'));
        return { ...c, values, clean: c.clean === c.values ? values : c.clean.map((v) => toBase(v, 'degF')) };
      });
      out.push({ without: null, with: what, rise_k: again({ ...trace, channels }).rise_k });
    };
    asF(
      probes.map((p) => p.name),
      `${list(probes.map((p) => p.name))} in °F`,
    );
    asF(
      [...probes, ...usable(trace, 'sensor')].map((c) => c.name),
      'all temperatures in °F',
    );
  }
  return out;
}

const list = (names: string[]): string =>
  names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;

/** The finding of a typed room that stands in for probes that were logged. */
export function roomReplaced(trace: Trace, room_c: number): Finding {
  const names = ambientProbes(trace).map((p) => p.name);
  return {
    code: 'ambient_typed',
    severity: 'warn',
    message: `An entered room temperature of ${write(room_c, 1)} °C replaces ${list(names)}, by decision.`,
    numbers: { room_c },
  };
}
