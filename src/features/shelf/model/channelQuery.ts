import type { SourceKind } from './sourceAddress';

/** How a register's bits are a number; two registers hold the high word first unless they are swapped. */
export const REGISTER_TYPES = { uint16: 1, int16: 1, uint32: 2, int32: 2, float32: 2 } as const;
export type RegisterType = keyof typeof REGISTER_TYPES;

/** Registers of one value. */
export interface Register {
  table: 'holding' | 'input';
  /** as the protocol counts, from 0 */
  register: number;
  type: RegisterType;
  swapped: boolean;
  /** the number times this is the value */
  factor: number;
}

/** Where the figure stands in a line of text. */
export type LinePlace = { after: string } | { column: number };

/** What gives a channel its value, by the kind of its instrument's address. */
export type ChannelQuery =
  | { kind: 'scpi'; ask: string }
  | { kind: 'mqtt'; topic: string; path: string[] }
  | { kind: 'http'; path: string[] }
  | ({ kind: 'modbus' } & Register)
  /** a line that comes by itself, or the answer to what is asked */
  | { kind: 'serial'; ask: string | null; place: LinePlace };

type Problem = { problem: string };

const ARROW = /\s*(?:->|→)\s*/;

/** What a channel's text means where its instrument has such an address; null is a channel that is named like what comes. */
export function readQuery(kind: SourceKind, text: string): ChannelQuery | Problem | null {
  switch (kind) {
    case 'scpi':
      return text.includes('?') ? { kind, ask: text } : { problem: `"${text}" is not a query: a query contains a question mark.` };
    case 'mqtt':
      return readTopic(text);
    case 'http': {
      const path = readPath(text);
      return 'problem' in path ? path : { kind, path: path.keys };
    }
    case 'modbus':
      return readRegister(text);
    case 'serial':
      return readLine(text);
    default:
      return { problem: `"${text}" is asked of nobody: what is pushed or stands in a file has the channel's own name.` };
  }
}

/** Examples of what a channel is, by the kind of the address. */
export const QUERY_EXAMPLES: Record<SourceKind, string> = {
  scpi: '= MEAS:TEMP? (@101)',
  mqtt: '= bench/probe1 -> t',
  http: '= sensors.0.value',
  modbus: '= input 12 float32',
  serial: '= T1={}',
  file: '',
  push: '',
};

function readPath(text: string): { keys: string[] } | Problem {
  const keys = text.split('.');
  return keys.some((k) => k.trim() === '') || keys.length > 12
    ? { problem: `"${text}" is not a place in JSON: write the names from the outside in, with dots, such as sensors.0.value.` }
    : { keys: keys.map((k) => k.trim()) };
}

function readTopic(text: string): ChannelQuery | Problem {
  const [topic, place, ...rest] = text.split(ARROW);
  if (!topic || /[+#\0]/.test(topic) || rest.length > 0)
    return { problem: `"${text}" is not a topic: name one whole topic without + and #, and a place in its JSON as in bench/probe1 -> t.` };
  if (place === undefined) return { kind: 'mqtt', topic, path: [] };
  const path = readPath(place);
  return 'problem' in path ? path : { kind: 'mqtt', topic, path: path.keys };
}

function readRegister(text: string): ChannelQuery | Problem {
  const read = /^(holding|input)\s+(\d{1,5})\s+([a-z]+\d+)(\s+swapped)?(?:\s*[x×*]\s*(-?\d+(?:\.\d+)?(?:e-?\d+)?))?$/i.exec(text);
  const type = read?.[3].toLowerCase() as RegisterType;
  if (!read || Number(read[2]) > 65_535 || !Object.hasOwn(REGISTER_TYPES, type))
    return {
      problem: `"${text}" is not a register: write table, number from 0, type and factor, as in "input 12 int16 x 0.1"; types are ${Object.keys(REGISTER_TYPES).join(', ')}, "swapped" has the low word first.`,
    };
  const factor = read[5] === undefined ? 1 : Number(read[5]);
  if (factor === 0) return { problem: `The factor of "${text}" is 0.` };
  const table = read[1].toLowerCase() as Register['table'];
  return { kind: 'modbus', table, register: Number(read[2]), type, swapped: read[4] !== undefined, factor };
}

function readLine(text: string): ChannelQuery | Problem {
  const parts = text.split(ARROW);
  const asks = parts[0].includes('?');
  const place = asks ? (parts[1] ?? '{1}') : parts[0];
  const column = /^\{(\d{1,2})\}$/.exec(place);
  const after = /^([^{}]{1,60})\{\}$/.exec(place);
  if (parts.length > (asks ? 2 : 1) || (!column && !after && place !== '{}') || Number(column?.[1] ?? 1) < 1)
    return {
      problem: `"${text}" does not say where the figure stands: "T1={}" is what follows T1=, "{2}" the second of a line's columns, and "MEAS:TEMP?" asks first.`,
    };
  const where = after ? { after: after[1] } : { column: Number(column?.[1] ?? 1) };
  return { kind: 'serial', ask: asks ? parts[0] : null, place: where };
}
