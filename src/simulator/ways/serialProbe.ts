import { type ChildProcess, spawn } from 'node:child_process';
import type { InstrumentFault } from '../scpi';
import { unlessStuck } from './stuck';

const SLOW_MS = 2500;

/** A thermometer at a serial line, which is a pseudo-terminal: it sends its figures by itself and answers T? with them. */
export class SerialProbe {
  readonly faults = new Set<InstrumentFault>();
  private child: ChildProcess | null = null;
  private timer: NodeJS.Timeout | null = null;
  private readonly now: () => number[];

  /** @param period_ms between lines that it sends by itself; null where it only answers */
  constructor(
    figures: () => number[],
    private readonly period_ms: number | null,
  ) {
    this.now = unlessStuck(figures, this.faults);
  }

  /** Opens its end of the line; gives the device of the other end. */
  async plugIn(): Promise<string> {
    // script (util-linux) holds one end of a pseudo-terminal; what runs within names the other
    const child = spawn('script', ['-qfc', 'tty; stty raw -echo; exec sleep 100000', '/dev/null'], { stdio: ['pipe', 'pipe', 'ignore'] });
    this.child = child;
    child.stdin?.on('error', () => {});
    let asked = '';
    const device = await new Promise<string>((done, failed) => {
      let said = '';
      child.once('error', failed);
      child.once('exit', () => failed(new Error('the serial line could not be made')));
      child.stdout?.on('data', (part) => {
        const text = String(part);
        if (said === 'known') {
          asked += text;
          const lines = asked.split('\n');
          asked = lines.pop() ?? '';
          for (const line of lines) this.answer(line.trim());
          return;
        }
        said += text;
        const name = /\/dev\/\S+/.exec(said)?.[0];
        if (!name || !said.includes('\n')) return;
        said = 'known';
        // the line is raw a moment after it has its name
        setTimeout(done, 200, name);
      });
    });
    if (this.period_ms !== null) this.timer = setInterval(() => this.send(this.line()), this.period_ms);
    return device;
  }

  /** Pulls the plug. */
  cut(): void {
    this.child?.kill('SIGKILL');
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.cut();
  }

  private line(): string {
    const now = this.now();
    if (this.faults.has('garbage')) return '#?Q~/ T1 4.4.4';
    const spoilt = (figure: number) =>
      this.faults.has('nan')
        ? 'NAN'
        : this.faults.has('overrange')
          ? '9.9E37'
          : `${figure.toFixed(2)}${this.faults.has('wrong_unit') ? 'F' : 'C'}`;
    return now.map((figure, i) => `T${i + 1}=${spoilt(figure)}`).join(',');
  }

  private answer(asked: string): void {
    if (asked === '*IDN?')
      this.send(this.faults.has('other_device') ? 'Thornmere,Borrowed meter,000,1.0' : 'Thornmere,Serial probe,SP-0002,1.0');
    else if (asked === 'T?') this.send(this.line());
  }

  private send(text: string): void {
    if (this.faults.has('silent') || this.faults.has('drop') || this.faults.has('refuse')) return;
    const write = () => this.child?.stdin?.writable && this.child.stdin.write(`${text}\r\n`);
    if (this.faults.has('slow')) setTimeout(write, SLOW_MS);
    else write();
  }
}
