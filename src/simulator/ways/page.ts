import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { CuttableServer } from '../cuttableServer';
import type { InstrumentFault } from '../scpi';
import { unlessStuck } from './stuck';

const SLOW_MS = 2500;

/** A plug meter with a page of its figures as JSON. */
export class PageOfReadings extends CuttableServer {
  readonly faults = new Set<InstrumentFault>();
  private readonly now: () => Record<string, number>;

  constructor(figures: () => Record<string, number>) {
    super(createServer((request, response) => this.answer(request, response)));
    this.now = unlessStuck(figures, this.faults);
  }

  private answer(request: IncomingMessage, response: ServerResponse): void {
    if (this.faults.has('drop') || this.faults.has('refuse')) {
      request.socket.destroy();
      return;
    }
    if (this.faults.has('silent')) return;
    if (this.faults.has('other_device')) {
      response.writeHead(302, { location: 'http://127.0.0.1:9/' }).end();
      return;
    }
    const send = () => response.writeHead(200, { 'content-type': 'application/json' }).end(this.text());
    if (this.faults.has('slow')) setTimeout(send, SLOW_MS);
    else send();
  }

  private text(): string {
    if (this.faults.has('garbage')) return '#?Q~/ 4.4.4';
    const now = this.now();
    const spoilt = (figure: number) =>
      this.faults.has('nan') ? null : this.faults.has('overrange') ? 9.9e37 : this.faults.has('wrong_unit') ? `${figure} PA` : figure;
    return JSON.stringify({ meter: [Object.fromEntries(Object.entries(now).map(([key, figure]) => [key, spoilt(figure)]))] });
  }
}
