import { ROLES, type Role } from '#core/signal/logs/types';
import { parseUnit, type Unit } from '#core/units/units';
import { type ChannelQuery, QUERY_EXAMPLES, readQuery } from './channelQuery';
import type { SourceAddress, SourceKind } from './sourceAddress';

/** One quantity an instrument gives, and what gives it. */
export interface MappedChannel {
  name: string;
  role: Role;
  unit: Unit | null;
  /** null where it is pushed or stands in a file */
  query: string | null;
}

const MOST = 64;
/** Roles whose figures have no unit. */
const BARE = new Set<Role>(['throttle', 'score', 'frame', 'ignore']);

/**
 * Channels as they are written on an instrument's sheet: "Die 1: sensor °C = MEAS:TEMP? (@101); Room: ambient °C = …". Channels that name
 * the same query take the figures of its answer in their order. Names of one map differ. What may stand behind the equals sign depends on
 * the address: {@link channelProblem}.
 */
export function readChannelMap(text: string): { channels: MappedChannel[] } | { problem: string } {
  const parts = text.split(/[;\n]/).flatMap((p) => p.trim() || []);
  if (parts.length === 0) return { problem: 'Name at least one channel, such as "Die 1: sensor °C = MEAS:TEMP? (@101)".' };
  if (parts.length > MOST) return { problem: `An instrument has up to ${MOST} channels.` };
  const channels: MappedChannel[] = [];
  for (const part of parts) {
    const read = /^([^:=]{1,40}):\s*([a-z]+)(?:\s+([^\s=]+))?\s*(?:=\s*(.{1,120}))?$/.exec(part);
    const example = `write it as "Die 1: sensor °C = MEAS:TEMP? (@101)".`;
    if (!read) return { problem: `"${part}" is not a channel: ${example}` };
    const [, name, role, unitText, query] = read;
    if (!(ROLES as readonly string[]).includes(role))
      return { problem: `"${role}" of ${name.trim()} is not a role; there are ${ROLES.join(', ')}.` };
    const unit = unitText ? parseUnit(unitText) : null;
    if (unitText && !unit) return { problem: `"${unitText}" of ${name.trim()} is not a known unit, such as °C, W, rpm, MHz or dB.` };
    if (!unit && !BARE.has(role as Role)) return { problem: `${name.trim()} needs its unit: ${example}` };
    if (channels.some((c) => c.name === name.trim())) return { problem: `Two channels are called "${name.trim()}".` };
    channels.push({ name: name.trim(), role: role as Role, unit, query: query?.trim() ?? null });
  }
  return { channels };
}

/**
 * What is wrong with channels for an instrument of such an address; null where each can be read.
 * @param name of the instrument
 */
export function channelProblem(kind: SourceKind, channels: MappedChannel[]): string | null {
  for (const { name, query } of channels) {
    if (query === null) {
      if (QUERY_EXAMPLES[kind]) return `${name} needs what gives its value, such as "${QUERY_EXAMPLES[kind]}".`;
      continue;
    }
    const read = readQuery(kind, query);
    if (read && 'problem' in read) return `${name}: ${read.problem}`;
  }
  const asked = channels.filter(({ query }) => query?.includes('?')).length;
  if (kind === 'serial' && asked > 0 && asked < channels.length)
    return 'A serial line is either asked for each of its channels or listened to for all of them.';
  return null;
}

/** Channels with what their texts mean where the instrument has such an address; one that has no meaning there is left out. */
export const queriesOf = <Kind extends ChannelQuery['kind']>(kind: Kind, channels: MappedChannel[]) =>
  channels.flatMap((channel) => {
    const query = readQuery(kind, channel.query ?? '');
    return query && !('problem' in query) ? [{ channel, query: query as Extract<ChannelQuery, { kind: Kind }> }] : [];
  });

/** What a run is read from, as its instrument's sheet said when it began. */
export interface LiveSource {
  instrument_id: number;
  name: string;
  address: SourceAddress;
  channels: MappedChannel[];
  period_s: number;
  /** text that *IDN? has to hold; null where any will do */
  identity: string | null;
  switch_on: string | null;
  switch_off: string | null;
  /** added to its readings, in their unit */
  offset: number;
  /** added to its times, s; null where the first reading tells it */
  clock_offset_s: number | null;
  calibrated_until: string | null;
}

/** True where a source answers questions; the others send by themselves. */
export const isAsked = ({ address, channels }: LiveSource): boolean =>
  address.kind === 'serial' ? channels.some((c) => c.query?.includes('?')) : ['scpi', 'modbus', 'http'].includes(address.kind);
