import { ROLES, type Role } from '#core/signal/logs/types';
import { parseUnit, type Unit } from '#core/units/units';

/** One quantity an instrument gives, and the query it is the answer to. */
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
 * the same query take the figures of its answer in their order. Names of one map differ.
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
    if (query && !query.includes('?')) return { problem: `"${query}" of ${name.trim()} is not a query: a query contains a question mark.` };
    if (channels.some((c) => c.name === name.trim())) return { problem: `Two channels are called "${name.trim()}".` };
    channels.push({ name: name.trim(), role: role as Role, unit, query: query?.trim() ?? null });
  }
  return { channels };
}

/** Where an instrument is reached: over the network, in a file that grows in the folder of logs, or by its own pushes. */
type SourceAddress = { kind: 'scpi'; host: string; port: number } | { kind: 'file'; file: string } | { kind: 'push' };

/** Addresses as they are written on a sheet. */
export function readAddress(text: string): SourceAddress | { problem: string } {
  const said = text.trim();
  if (said === 'push') return { kind: 'push' };
  const file = /^file:\s*(.+)$/.exec(said)?.[1];
  if (file !== undefined) {
    if (!/^[\w][\w .()-]{0,119}$/.test(file))
      return { problem: 'A file is named without its folder, in letters, digits, spaces, dots and dashes.' };
    return { kind: 'file', file };
  }
  const tcp = /^([a-z0-9.-]{1,100}|\[[0-9a-f:]+\]):(\d{1,5})$/i.exec(said);
  if (!tcp || Number(tcp[2]) < 1 || Number(tcp[2]) > 65_535)
    return { problem: 'Write an address as host:port, as file:NAME of a log that grows, or as push.' };
  return { kind: 'scpi', host: tcp[1].replace(/^\[|\]$/g, ''), port: Number(tcp[2]) };
}

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
