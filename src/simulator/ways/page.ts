import { createServer, type Server } from 'node:http';
import type { InstrumentFault } from '../scpi';
import { unlessStuck } from './stuck';

const SLOW_MS = 2500;

/** A plug meter with a page of its figures as JSON. */
export class PageOfReadings {
  readonly faults = new Set<InstrumentFault>();
  private readonly server: Server;
  private readonly now: () => Record<string, number>;

  constructor(figures: () => Record<string, number>) {
    this.now = unlessStuck(figures, this.faults);
    this.server = createServer((request, response) => {
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
    });
  }

  async listen(port = 0): Promise<number> {
    await new Promise<void>((done, failed) => this.server.once('error', failed).listen(port, '127.0.0.1', done));
    return (this.server.address() as { port: number }).port;
  }

  cut(): void {
    this.server.closeAllConnections();
  }

  async stop(): Promise<void> {
    this.cut();
    await new Promise<void>((done) => this.server.close(() => done()));
  }

  private text(): string {
    if (this.faults.has('garbage')) return '#?Q~/ 4.4.4';
    const now = this.now();
    const spoilt = (figure: number) =>
      this.faults.has('nan') ? null : this.faults.has('overrange') ? 9.9e37 : this.faults.has('wrong_unit') ? `${figure} PA` : figure;
    return JSON.stringify({ meter: [Object.fromEntries(Object.entries(now).map(([key, figure]) => [key, spoilt(figure)]))] });
  }
}
