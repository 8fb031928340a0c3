import { toBase } from '#core/units/units';
import { queriesOf } from '#features/shelf/model/channelMap';
import { REGISTER_TYPES, type Register } from '#features/shelf/model/channelQuery';
import type { RefusedReading } from '../readAnswer';
import { inTime, type Link, LinkFailure, type LinkTerms } from './link';
import { reachedAddress, unreachable } from './reachedAddress';

/** What a server may refuse (Modbus Application Protocol V1.1b3, §7). */
const EXCEPTIONS: Record<number, string> = {
  1: 'it does not know the function',
  2: 'it has no such register',
  3: 'it takes no such number of registers',
  4: 'it failed',
  6: 'it is busy',
  10: 'its gateway has no path',
  11: 'the device behind its gateway does not answer',
};

export interface Server {
  host: string;
  port: number;
  unit: number;
}

/** Registers of a Modbus TCP server, each channel asked for in turn. */
export async function openModbus(server: Server, { channels, timeout_ms }: LinkTerms): Promise<Link> {
  const client = await connectTo(server, timeout_ms);
  const wanted = queriesOf('modbus', channels);
  const read = async () => {
    const values = new Map<string, number>();
    const refused: RefusedReading[] = [];
    for (const { channel, query: register } of wanted) {
      const count = REGISTER_TYPES[register.type];
      const answer = await (register.table === 'holding'
        ? client.readHoldingRegisters(register.register, count)
        : client.readInputRegisters(register.register, count)
      ).catch((error) => refusedBy(error, register, timeout_ms));
      const figure = 'code' in answer ? { value: Number.NaN, refused: answer } : decodeRegisters(answer.buffer, register);
      if (figure.refused) refused.push(figure.refused);
      values.set(channel.name, channel.unit ? toBase(figure.value, channel.unit) : figure.value);
    }
    return { values, refused };
  };
  return { read, close: () => client.close(() => {}) };
}

async function connectTo({ host, port, unit }: Server, timeout_ms: number) {
  const address = await reachedAddress(host, port);
  const { default: ModbusRTU } = await import('modbus-serial');
  const client = new ModbusRTU();
  client.on('error', () => {});
  try {
    await inTime(client.connectTCP(address, { port }), timeout_ms, () => unreachable(host, port, 'ETIMEDOUT'));
  } catch (error) {
    client.close(() => {});
    throw error instanceof LinkFailure ? error : unreachable(host, port, (error as { code?: string }).code ?? 'ECONNREFUSED');
  }
  client.setID(unit);
  client.setTimeout(timeout_ms);
  return client;
}

/** The first registers of a table as they came, as many of them as there are; null where it has none. */
export async function readBlock(server: Server, table: Register['table'], most: number, timeout_ms: number): Promise<Buffer | null> {
  const client = await connectTo(server, timeout_ms);
  try {
    const parts: Buffer[] = [];
    let from = 0;
    // a block that reaches beyond the last register is refused whole: ever smaller ones come up to it
    for (let count = most; count >= 1 && from < most; ) {
      const some = Math.min(count, most - from);
      const answer = await (table === 'holding' ? client.readHoldingRegisters(from, some) : client.readInputRegisters(from, some)).catch(
        (error) => refusedBy(error, { table, register: from }, timeout_ms),
      );
      if ('code' in answer) count = Math.floor(some / 2);
      else {
        parts.push(answer.buffer);
        from += some;
      }
    }
    return parts.length === 0 ? null : Buffer.concat(parts);
  } finally {
    client.close(() => {});
  }
}

/** What a server's refusal is of a register; @throws LinkFailure where its answers cannot be trusted any more */
function refusedBy(
  error: { modbusCode?: number; name?: string; message: string },
  register: Pick<Register, 'table' | 'register'>,
  timeout_ms: number,
): RefusedReading {
  const { modbusCode } = error;
  if (modbusCode !== undefined)
    return {
      code: 'no_register',
      message: `It refuses ${register.table} register ${register.register}: ${EXCEPTIONS[modbusCode] ?? `exception ${modbusCode}`}.`,
    };
  if (error.name === 'TransactionTimedOutError')
    throw new LinkFailure('timeout', `No answer for ${register.table} register ${register.register} within ${timeout_ms / 1000} s.`);
  if (error.name === 'PortNotOpenError') throw new LinkFailure('dropped', 'The connection was cut.');
  throw new LinkFailure('dropped', `Its answer is not one of Modbus (${error.message}).`);
}

/**
 * The number that registers hold. A number at the end of its type is no reading: devices send it where a probe is missing or out of range.
 * @param buffer registers as they came, each with its high byte first
 */
export function decodeRegisters(buffer: Buffer, { type, swapped, factor }: Register): { value: number; refused: RefusedReading | null } {
  const none = (code: RefusedReading['code'], message: string) => ({ value: Number.NaN, refused: { code, message } });
  if (buffer.length !== 2 * REGISTER_TYPES[type])
    return none('count', `It sends ${buffer.length} bytes where ${2 * REGISTER_TYPES[type]} were asked.`);
  const bytes = swapped && buffer.length === 4 ? Buffer.concat([buffer.subarray(2), buffer.subarray(0, 2)]) : buffer;
  const raw = {
    uint16: () => bytes.readUInt16BE(),
    int16: () => bytes.readInt16BE(),
    uint32: () => bytes.readUInt32BE(),
    int32: () => bytes.readInt32BE(),
    float32: () => bytes.readFloatBE(),
  }[type]();
  if (Number.isNaN(raw)) return none('not_a_number', 'It says that it has no reading (NaN).');
  if (ENDS[type].includes(raw) || !Number.isFinite(raw))
    return none('over_range', `It says ${raw}, an end of ${type}: the probe is missing or out of its range.`);
  return { value: raw * factor, refused: null };
}

/** Numbers that stand for no reading; the smallest of an unsigned type is a reading. */
const ENDS: Record<Register['type'], number[]> = {
  uint16: [0xffff],
  int16: [0x7fff, -0x8000],
  uint32: [0xffffffff],
  int32: [0x7fffffff, -0x80000000],
  float32: [],
};
