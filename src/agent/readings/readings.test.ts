import { appendFileSync, mkdtempSync, readFileSync, statSync, truncateSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { Outbox } from './outbox';
import { Schedule } from './schedule';
import { Sender } from './send';

const folder = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-outbox-'));
let files = 0;
const newFile = () => path.join(folder, `${files++}.ndjson`);

describe('a schedule', () => {
  it.each([1, 10, 20])('does not drift in 24 h at %i Hz, however late each step is taken', (hz) => {
    const random = seededRandom(hz);
    const period = 1000 / hz;
    const schedule = new Schedule(17.3, period);
    let now = 17.3;
    let steps = 0;
    let furthest = 0;
    while (steps < 86_400 * hz) {
      const due = schedule.next(now);
      furthest = Math.max(furthest, Math.abs(due - (17.3 + steps * period)));
      steps++;
      // the work of a step and the lateness of the timer, always less than half a step
      now = due + 0.45 * period * random.uniform();
    }
    expect(furthest).toBeLessThan(1e-5);
    expect(schedule.missed).toBe(0);
    expect(now - 17.3).toBeGreaterThan(86_400_000 - 2 * period);
  });

  it('leaves out and counts what was slept through, and keeps to its steps', () => {
    const schedule = new Schedule(0, 100);
    expect([schedule.next(3), schedule.next(60), schedule.next(1049)]).toEqual([0, 100, 1000]);
    expect(schedule.missed).toBe(8);
    expect(schedule.next(1001)).toBe(1100);
  });
});

describe('readings that wait', () => {
  it('are there again after the program, with their numbers, and numbers go on', () => {
    const file = newFile();
    const box = new Outbox(file);
    for (let i = 1; i <= 10; i++) expect(box.add(i, { a: i })).toBe(i);
    box.acknowledge([1, 2, 3, 99]);
    // killed here: what was acknowledged is sent again, which is harmless
    const again = new Outbox(file);
    expect(again.first(3).map((r) => r.seq)).toEqual([1, 2, 3]);
    again.acknowledge(Array.from({ length: 10 }, (_, i) => i + 1));
    again.save();
    const third = new Outbox(file);
    expect(third.size).toBe(0);
    expect(third.add(11, { a: 11 })).toBe(11);
  });

  it('survive a last line that was cut short', () => {
    const file = newFile();
    const box = new Outbox(file);
    for (let i = 1; i <= 3; i++) box.add(i, { a: i });
    truncateSync(file, statSync(file).size - 5);
    expect(new Outbox(file).first(9).map((r) => r.seq)).toEqual([1, 2]);
    appendFileSync(file, 'rubbish\n{"seq":"x"}\n');
    expect(new Outbox(file).size).toBe(2);
  });

  it('take no more room than they may: the oldest go, and are counted', () => {
    const file = newFile();
    const box = new Outbox(file, 4000);
    for (let i = 1; i <= 1000; i++) box.add(i, { a: i });
    expect(box.dropped).toBeGreaterThan(800);
    expect(box.dropped + box.size).toBe(1000);
    expect(box.first(1)[0].seq).toBe(box.dropped + 1);
    expect(statSync(file).size).toBeLessThan(4000 + 4_300_000);
    expect(readFileSync(file, 'utf8')).toContain('"seq":1000');
  });
});

/** A server that stores what it is sent, and can be taken away. */
class Receiver {
  readonly stored = new Map<number, string>();
  readonly ends: string[] = [];
  private server: Server | null = null;
  port = 0;
  answer: (seqs: number[]) => { status: number; body: unknown } = (seqs) => ({ status: 200, body: { stored: seqs, refused: [] } });

  async up(): Promise<void> {
    this.server = createServer((request, response) => {
      let text = '';
      request.on('data', (part) => {
        text += part;
      });
      request.on('end', () => {
        const lines = text.split('\n').map((l) => JSON.parse(l));
        const { status, body } = this.answer(lines.map((l) => l.seq));
        if (status === 200)
          for (const l of lines) {
            this.stored.set(l.seq, JSON.stringify(l.values));
            if (l.load_ended) this.ends.push(l.load_ended);
          }
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
      });
    });
    await new Promise<void>((done) => this.server?.listen(this.port, '127.0.0.1', done));
    this.port = (this.server.address() as AddressInfo).port;
  }

  async down(): Promise<void> {
    this.server?.closeAllConnections();
    await new Promise((done) => this.server?.close(done));
  }
}

describe('sending', () => {
  const receiver = new Receiver();
  afterEach(() => receiver.down());

  const open = (box = new Outbox(newFile())) => {
    const said: string[] = [];
    const loads: boolean[] = [];
    const over: string[] = [];
    const listener = { say: (t: string) => said.push(t), onLoad: (on: boolean) => loads.push(on), onOver: (why: string) => over.push(why) };
    return { box, said, loads, over, sender: new Sender(`http://127.0.0.1:${receiver.port}/x`, 'Card', box, listener) };
  };

  it('goes on through a server that goes and comes back: nothing is lost, and what waits is on disk', async () => {
    await receiver.up();
    receiver.stored.clear();
    const { box, sender, said } = open();
    for (let i = 1; i <= 50; i++) box.add(i, { a: i });
    await sender.drain(2000);
    expect(box.size).toBe(0);
    await receiver.down();
    for (let i = 51; i <= 1250; i++) {
      box.add(i, { a: i });
      sender.pump();
    }
    await sender.drain(300);
    expect(box.size).toBe(1200);
    await receiver.up();
    await sender.drain(5000);
    expect(box.size).toBe(0);
    expect(receiver.stored.size).toBe(1250);
    expect(receiver.stored.get(777)).toBe('{"a":777}');
    expect(said[0]).toMatch(/does not answer \(ECONN(REFUSED|RESET)\); readings wait on disk/);
    expect(said[1]).toMatch(/answers again; \d+ readings wait/);
  });

  it('keeps what the server could not store, drops what it refuses for good, and ends with the run', async () => {
    await receiver.up();
    const { box, sender, said, loads, over } = open();
    for (let i = 1; i <= 4; i++) box.add(i, { a: i });
    receiver.answer = () => ({ status: 503, body: { error: 'The store is gone.' } });
    await sender.drain(200);
    expect(box.size).toBe(4);
    receiver.answer = () => ({
      status: 200,
      body: { stored: [1, 2], refused: [{ line: 3, seq: 3, error: 'No channel "a".' }], load: 'on' },
    });
    await sender.drain(300);
    expect(box.first(9).map((r) => r.seq)).toEqual([4]);
    expect(said.at(-1)).toBe('The server refused a reading: No channel "a".');
    expect(loads).toContain(true);
    receiver.answer = () => ({ status: 409, body: { error: 'Live run 7 is over.' } });
    await sender.drain(2000);
    expect(over).toEqual(['Live run 7 is over.']);
    expect(box.size).toBe(1);
  });

  it('tells with its readings why the load was ended here, until it was heard, and once', async () => {
    receiver.answer = () => ({ status: 503, body: { error: 'The store is gone.' } });
    await receiver.up();
    const { box, sender } = open();
    sender.loadEnded('The part reached its limit.');
    box.add(1, { a: 1 });
    await sender.drain(200);
    expect(receiver.ends).toEqual([]);
    receiver.answer = (seqs) => ({ status: 200, body: { stored: seqs, refused: [] } });
    for (let i = 2; i <= 4; i++) {
      box.add(i, { a: i });
      await sender.drain(3000);
    }
    expect(box.size).toBe(0);
    expect(receiver.ends).toEqual(['The part reached its limit.']);
  });
});
