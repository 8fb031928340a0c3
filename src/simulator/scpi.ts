import { createServer, type Socket } from 'node:net';
import { CuttableServer } from './cuttableServer';

/** What goes wrong between an instrument and whoever asks it. */
export const INSTRUMENT_FAULTS = [
  'drop',
  'refuse',
  'slow',
  'silent',
  'garbage',
  'stuck',
  'nan',
  'overrange',
  'wrong_unit',
  'other_device',
] as const;
export type InstrumentFault = (typeof INSTRUMENT_FAULTS)[number];

export interface ScpiCommand {
  /** in the notation of SCPI-99, capitals for the short form, such as MEASure:TEMPerature? */
  header: string;
  /** the answer of a query; null after a command that has none */
  run: (argument: string) => string | null;
}

export interface ScpiInstrument {
  /** maker, model, serial number and version, as *IDN? answers */
  identity: string;
  /** symbol that stands behind figures where an instrument is set to send it */
  unit: string;
  commands: ScpiCommand[];
}

/** A SCPI error, which goes to the queue that SYSTem:ERRor? reads. */
export class ScpiError extends Error {
  constructor(
    readonly code: number,
    text: string,
  ) {
    super(text);
  }
}

const QUEUE = 20;
const LONGEST_LINE = 1024;
const SLOW_MS = 2500;

/** An instrument that answers SCPI over raw TCP, a line a message; its error queue is one for all connections (SCPI 1999, §21.8). */
export class ScpiServer extends CuttableServer {
  readonly faults = new Set<InstrumentFault>();
  private readonly forms: { pattern: RegExp; run: ScpiCommand['run'] }[];
  private readonly last = new Map<string, string>();
  private readonly errors: string[] = [];

  constructor(private readonly instrument: ScpiInstrument) {
    super(createServer((socket) => this.serve(socket)));
    this.forms = instrument.commands.map(({ header, run }) => ({ pattern: patternOf(header), run }));
  }

  private serve(socket: Socket): void {
    if (this.faults.has('refuse')) {
      socket.destroy();
      return;
    }
    let rest = '';
    socket.setEncoding('latin1');
    socket.on('data', (text) => {
      rest += text;
      const lines = rest.split('\n');
      rest = lines.pop() ?? '';
      if (rest.length > LONGEST_LINE) socket.destroy();
      for (const line of lines) this.take(socket, line.trim());
    });
  }

  private take(socket: Socket, line: string): void {
    if (this.faults.has('drop')) {
      socket.destroy();
      return;
    }
    const answers = line.split(';').flatMap((message) => this.obey(message.trim()) ?? []);
    if (answers.length === 0 || this.faults.has('silent')) return;
    const text = `${answers.join(';')}\n`;
    if (this.faults.has('slow')) setTimeout(() => socket.writable && socket.write(text), SLOW_MS);
    else socket.write(text);
  }

  private obey(message: string): string | null {
    const { errors } = this;
    if (message === '') return null;
    const [header, ...rest] = message.split(/\s+/);
    const argument = rest.join(' ');
    try {
      switch (header.toUpperCase()) {
        case '*IDN?':
          return this.faults.has('other_device') ? 'Thornmere,Borrowed meter,000,1.0' : this.instrument.identity;
        case '*CLS':
        case '*RST':
          errors.length = 0;
          return null;
        case '*OPC?':
          return '1';
      }
      if (/^SYST(EM)?:ERR(OR)?(:NEXT)?\?$/i.test(header)) return errors.shift() ?? '0,"No error"';
      const form = this.forms.find((f) => f.pattern.test(header));
      if (!form) throw new ScpiError(-113, 'Undefined header');
      const answer = form.run(argument);
      return answer === null ? null : this.spoil(message, answer);
    } catch (error) {
      const known = error instanceof ScpiError ? error : new ScpiError(-200, 'Execution error');
      if (errors.length < QUEUE) errors.push(`${known.code},"${known.message}"`);
      else errors[QUEUE - 1] = '-350,"Queue overflow"';
      return null;
    }
  }

  /** The answer as a fault leaves it. */
  private spoil(message: string, answer: string): string {
    const every = (as: string) =>
      answer
        .split(',')
        .map(() => as)
        .join(',');
    if (this.faults.has('garbage')) return '#?Q~/ 4.4.4';
    if (this.faults.has('nan')) return every('NAN');
    if (this.faults.has('overrange')) return every('+9.90000000E+37');
    if (this.faults.has('stuck')) return this.last.get(message) ?? this.remember(message, answer);
    if (this.faults.has('wrong_unit')) {
      const other = this.instrument.unit === 'CEL' ? 'FAR' : 'PA';
      return answer
        .split(',')
        .map((v) => `${v} ${other}`)
        .join(',');
    }
    this.last.clear();
    return answer;
  }

  private remember(message: string, answer: string): string {
    this.last.set(message, answer);
    return answer;
  }
}

/** Both forms of every node of a header. */
function patternOf(header: string): RegExp {
  const nodes = header.split(':').map((node) => {
    const mark = node.endsWith('?') ? '\\?' : '';
    const long = node.replace('?', '');
    const short = long.replace(/[a-z]/g, '');
    return `${short}(?:${long.slice(short.length)})?${mark}`;
  });
  return new RegExp(`^:?${nodes.join(':')}$`, 'i');
}

/** Channel numbers of a list such as (@101,103:105). */
export function channelList(argument: string): number[] {
  const inside = /\(@([\d,:\s]+)\)/.exec(argument)?.[1];
  if (!inside) throw new ScpiError(-109, 'Missing parameter');
  return inside.split(',').flatMap((part) => {
    const [from, to = from] = part.split(':').map(Number);
    if (!(to >= from) || to - from > 200) throw new ScpiError(-222, 'Data out of range');
    return Array.from({ length: to - from + 1 }, (_, i) => from + i);
  });
}
