import { median } from '#core/stats/quantiles';
import { toBase } from '#core/units/units';
import { within } from './series';
import { findStages } from './stages';
import type { Channel, Drive, Span } from './types';

/** How near to its peers a level lies that is one of them: kelvin, or a share of theirs. */
const NEAR_K = 10;
const NEAR_SHARE = 0.25;
/** ΔT over the room that an idling part may have, K. */
const IDLE_RISE_K: [number, number] = [-2, 25];

/** A room that no study says anything of, °C. */
const USUAL_ROOM_C: [number, number] = [5, 45];

/** Levels of a channel while idling and late under load, °C; null where the run has no such stage. */
interface Levels {
  idle: number | null;
  load: number | null;
}

/**
 * Reads temperature columns without a unit as °F where, converted, their levels at idle and under load agree with those of their peers and
 * as written they do not. Channels are changed in place and say that their unit was guessed. Columns that say °C and agree with at least
 * two peers only as °F are marked as doubtful.
 * @param band °C in which the study's room lies, where it says so
 * @returns true where any was converted
 */
export function settleUnits(channels: Channel[], drive: Drive | null, band: [number, number] | null): boolean {
  const judged = channels.filter((c) => (c.role === 'sensor' || c.role === 'coolant' || c.role === 'ambient') && !c.rise);
  const open = judged.filter((c) => !c.labelled);
  const labelled = judged.filter((c) => c.labelled && c.unit === 'degC' && c.role === 'sensor');
  if (open.length === 0 && labelled.length < 3) return false;
  const stages = (drive && findStages(drive, () => false)) ?? [];
  const idleSpan = stages.find((s) => s.stage === 'idle') ?? null;
  const loadSpan = stages.find((s) => s.stage === 'sustained') ?? null;
  const levelsOf = (c: Channel): Levels => ({
    idle: idleSpan && levelOf(c, idleSpan),
    load: loadSpan && levelOf(c, { start_s: loadSpan.start_s + (2 * (loadSpan.end_s - loadSpan.start_s)) / 3, end_s: loadSpan.end_s }),
  });
  let guessed = false;
  const parts = channels.filter((c) => c.role === 'sensor');
  for (const c of open.filter((o) => o.role !== 'ambient')) {
    const peers = (c.role === 'coolant' ? channels.filter((p) => p.role === 'coolant') : parts).filter((p) => p !== c).map(levelsOf);
    if (agreesOnlyInF(levelsOf(c), peers)) guessed = readAsF(c);
  }
  const rooms = channels.filter((c) => c.role === 'ambient');
  for (const c of open.filter((o) => o.role === 'ambient')) {
    const level = median(c.clean);
    const others = rooms.filter((r) => r !== c).map((r) => ({ idle: null, load: median(r.clean) }));
    const byOthers = agreesOnlyInF({ idle: null, load: level }, others);
    const idle = medianOf(parts.map((p) => levelsOf(p).idle));
    const fits = (room: number) => idle !== null && idle - room >= IDLE_RISE_K[0] && idle - room <= IDLE_RISE_K[1];
    const inF = toBase(level, 'degF');
    const [low, high] = band ? [band[0] - NEAR_K, band[1] + NEAR_K] : USUAL_ROOM_C;
    const byParts = others.length === 0 && fits(inF) && !fits(level) && inF >= low && inF <= high;
    if (byOthers || byParts) guessed = readAsF(c);
  }
  if (labelled.length >= 3) {
    const levels = labelled.map(levelsOf);
    for (const [i, c] of labelled.entries()) {
      c.doubtful_f = agreesOnlyInF(
        levels[i],
        levels.filter((_, k) => k !== i),
      );
    }
  }
  return guessed;
}

function levelOf(channel: Channel, span: Span): number | null {
  const { values } = within(channel.t, channel.clean, span);
  return values.length === 0 ? null : median(values);
}

function medianOf(values: (number | null)[]): number | null {
  const known = values.filter((v): v is number => v !== null && !Number.isNaN(v));
  return known.length === 0 ? null : median(known);
}

function agreesOnlyInF(own: Levels, peers: Levels[]): boolean {
  const judged = (['idle', 'load'] as const).flatMap((stage) => {
    const level = own[stage];
    const theirs = medianOf(peers.map((p) => p[stage]));
    return level === null || theirs === null ? [] : [{ level, theirs }];
  });
  const near = (value: number, theirs: number) => Math.abs(value - theirs) <= Math.max(NEAR_K, NEAR_SHARE * Math.abs(theirs));
  return judged.length > 0 && judged.every((j) => near(toBase(j.level, 'degF'), j.theirs)) && !judged.every((j) => near(j.level, j.theirs));
}

/** Converts a channel from °F as written. */
function readAsF(channel: Channel): true {
  const same = channel.clean === channel.values;
  channel.values = channel.values.map((v) => toBase(v, 'degF'));
  channel.clean = same ? channel.values : channel.clean.map((v) => toBase(v, 'degF'));
  if (channel.resolution !== null) channel.resolution *= 5 / 9;
  channel.unit = 'degF';
  channel.guessed_f = true;
  return true;
}
