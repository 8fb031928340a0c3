import { createServer } from 'node:net';
import { Aedes } from 'aedes';
import { CuttableServer } from '../cuttableServer';
import type { InstrumentFault } from '../scpi';
import { unlessStuck } from './stuck';

const SLOW_MS = 2500;

/** An MQTT broker with a micro-controller that publishes figures to it: each as a topic of its own, and all as JSON. */
export class BrokerWithProbe {
  readonly faults = new Set<InstrumentFault>();
  private server: CuttableServer | null = null;
  private aedes: Aedes | null = null;
  private timer: NodeJS.Timeout | null = null;
  private readonly now: () => Record<string, number>;

  /**
   * @param root that its topics begin with
   * @param figures by the last part of their topic
   * @param login name and password that clients need; null where none
   */
  constructor(
    private readonly root: string,
    figures: () => Record<string, number>,
    private readonly period_ms: number,
    private readonly login: { name: string; password: string } | null = null,
  ) {
    this.now = unlessStuck(figures, this.faults);
  }

  async listen(port = 0): Promise<number> {
    const aedes = await Aedes.createBroker({
      authenticate: (_client, name, password, done) => {
        const { login } = this;
        const known = !login || (name === login.name && password?.toString() === login.password);
        done(known ? null : Object.assign(new Error('not known'), { returnCode: 4 }), known);
      },
    });
    this.aedes = aedes;
    this.server = new CuttableServer(
      createServer((socket) => {
        if (this.faults.has('refuse')) socket.destroy();
        else aedes.handle(socket);
      }),
    );
    const at = await this.server.listen(port);
    // what a broker keeps of a device that was unplugged long ago
    this.publish(`${this.root}/old`, '99.9', true);
    this.timer = setInterval(() => this.tell(), this.period_ms);
    return at;
  }

  cut(): void {
    this.server?.cut();
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.cut();
    const { aedes } = this;
    await new Promise<void>((done) => (aedes ? aedes.close(() => done()) : done()));
    await this.server?.stop();
  }

  private tell(): void {
    if (this.faults.has('drop')) {
      this.cut();
      return;
    }
    if (this.faults.has('silent')) return;
    const now = this.now();
    const spoilt = (figure: number) =>
      this.faults.has('nan') ? null : this.faults.has('overrange') ? 9.9e37 : this.faults.has('wrong_unit') ? `${figure} F` : figure;
    const all = Object.fromEntries(Object.entries(now).map(([key, figure]) => [key, spoilt(figure)]));
    const send = () => {
      for (const [key, figure] of Object.entries(all)) this.publish(`${this.root}/${key}`, figure === null ? 'NAN' : String(figure));
      this.publish(`${this.root}/all`, this.faults.has('garbage') ? '#?Q~/ {' : JSON.stringify({ probe: all }));
    };
    if (this.faults.has('slow')) setTimeout(send, SLOW_MS);
    else send();
  }

  private publish(topic: string, text: string, retain = false): void {
    const payload = this.faults.has('garbage') ? '#?Q~/ 4.4.4' : text;
    this.aedes?.publish({ cmd: 'publish', qos: 0, dup: false, retain, topic, payload: Buffer.from(payload) }, () => {});
  }
}
