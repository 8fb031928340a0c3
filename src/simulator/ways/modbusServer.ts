import { createServer, type Socket } from 'node:net';
import { CuttableServer } from '../cuttableServer';
import type { InstrumentFault } from '../scpi';
import { unlessStuck } from './stuck';

const SLOW_MS = 2500;
const [READ_HOLDING, READ_INPUT] = [3, 4];
const [NO_FUNCTION, NO_REGISTER, NO_DEVICE] = [1, 2, 11];
const HEADER = 7;

/**
 * A Modbus TCP server (Modbus Messaging on TCP/IP V1.0b) whose input registers hold figures as 32-bit floats, two registers each, and whose
 * holding registers hold them times ten as 16-bit integers.
 */
export class ModbusServer extends CuttableServer {
  readonly faults = new Set<InstrumentFault>();
  private readonly now: () => number[];

  /** @param figures in the order of the registers */
  constructor(figures: () => number[]) {
    super(createServer((socket) => this.serve(socket)));
    this.now = unlessStuck(figures, this.faults);
  }

  private serve(socket: Socket): void {
    if (this.faults.has('refuse')) {
      socket.destroy();
      return;
    }
    let rest = Buffer.alloc(0);
    socket.on('data', (part) => {
      rest = Buffer.concat([rest, part]);
      while (rest.length >= HEADER) {
        const length = 6 + rest.readUInt16BE(4);
        if (rest.length < length) break;
        this.take(socket, rest.subarray(0, length));
        rest = rest.subarray(length);
      }
    });
  }

  private take(socket: Socket, request: Buffer): void {
    if (this.faults.has('drop')) socket.destroy();
    if (this.faults.has('drop') || this.faults.has('silent')) return;
    const body = this.faults.has('garbage') ? Buffer.from([0x55, 0x13, 0x00]) : this.answer(request);
    const head = Buffer.from(request.subarray(0, HEADER));
    head.writeUInt16BE(body.length + 1, 4);
    const whole = Buffer.concat([head, body]);
    if (this.faults.has('slow')) setTimeout(() => socket.writable && socket.write(whole), SLOW_MS);
    else socket.write(whole);
  }

  private answer(request: Buffer): Buffer {
    const [code, from, count] = [request[7], request.readUInt16BE(8), request.readUInt16BE(10)];
    const exception = (which: number) => Buffer.from([code | 0x80, which]);
    if (this.faults.has('other_device')) return exception(NO_DEVICE);
    if (code !== READ_HOLDING && code !== READ_INPUT) return exception(NO_FUNCTION);
    const registers = this.registers(code === READ_INPUT);
    if (from + count > registers.length || this.faults.has('wrong_unit')) return exception(NO_REGISTER);
    return Buffer.concat([Buffer.from([code, 2 * count]), ...registers.slice(from, from + count)]);
  }

  private registers(input: boolean): Buffer[] {
    const now = this.now();
    const spoilt = (figure: number) =>
      this.faults.has('nan') ? Number.NaN : this.faults.has('overrange') ? Number.POSITIVE_INFINITY : figure;
    return now.flatMap((figure) => {
      const bytes = Buffer.alloc(input ? 4 : 2);
      if (input) bytes.writeFloatBE(spoilt(figure));
      // a number at the end of its range is how such devices say that a probe is missing
      else bytes.writeInt16BE(Number.isFinite(spoilt(figure)) ? Math.round(10 * figure) : 0x7fff);
      return input ? [bytes.subarray(0, 2), bytes.subarray(2)] : [bytes];
    });
  }
}
