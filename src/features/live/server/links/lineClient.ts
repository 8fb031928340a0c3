import { connect, type Socket } from 'node:net';
import { reachable } from './reachable';

/** An answer that could not be had, and how: the connection has to be made anew after any of them. */
export class ScpiFailure extends Error {
  constructor(
    readonly code: 'unreachable' | 'timeout' | 'dropped' | 'too_long' | 'other_device',
    message: string,
  ) {
    super(message);
  }
}

const LONGEST_ANSWER = 16 * 1024;

/** One connection to an instrument that speaks SCPI over raw TCP: a line a message, one question at a time. */
export class ScpiClient {
  private rest = '';
  private waiting: { answer: (line: string) => void; fail: (error: ScpiFailure) => void } | null = null;

  private constructor(
    private readonly socket: Socket,
    private readonly timeout_ms: number,
  ) {
    socket.setEncoding('latin1').setNoDelay(true);
    socket.on('data', (text) => this.take(String(text)));
    const gone = () => this.fail(new ScpiFailure('dropped', 'The connection was cut.'));
    socket.on('error', gone).on('close', gone);
  }

  /** @throws ScpiFailure where nothing listens at the address */
  static async connect(host: string, port: number, timeout_ms: number): Promise<ScpiClient> {
    const where = await reachable(host, port);
    if ('problem' in where) throw new ScpiFailure('unreachable', where.problem);
    const socket = connect({ host: where.address, port });
    await new Promise<void>((done, failed) => {
      const timer = setTimeout(() => refuse(`${host}:${port} does not answer.`), timeout_ms);
      const refuse = (message: string) => {
        clearTimeout(timer);
        socket.destroy();
        failed(new ScpiFailure('unreachable', message));
      };
      socket.once('error', (e: NodeJS.ErrnoException) =>
        refuse(e.code === 'ECONNREFUSED' ? `Nothing listens at ${host}:${port}.` : `${host}:${port} cannot be reached (${e.code}).`),
      );
      socket.once('connect', () => {
        clearTimeout(timer);
        socket.removeAllListeners('error');
        done();
      });
    });
    return new ScpiClient(socket, timeout_ms);
  }

  /**
   * Sends a query and waits for its line. An answer that comes too late would be taken for the next one's, so the connection is given up.
   */
  query(text: string): Promise<string> {
    return new Promise((answer, fail) => {
      const timer = setTimeout(() => {
        this.fail(new ScpiFailure('timeout', `No answer to ${text} within ${this.timeout_ms / 1000} s.`));
        this.close();
      }, this.timeout_ms);
      this.waiting = {
        answer: (line) => {
          clearTimeout(timer);
          answer(line);
        },
        fail: (error) => {
          clearTimeout(timer);
          fail(error);
        },
      };
      if (this.socket.destroyed) this.fail(new ScpiFailure('dropped', 'The connection was cut.'));
      else this.socket.write(`${text}\n`);
    });
  }

  send(text: string): void {
    if (!this.socket.destroyed) this.socket.write(`${text}\n`);
  }

  /** What was sent is on its way before the connection ends. */
  close(): void {
    this.socket.destroySoon();
  }

  private take(text: string): void {
    this.rest += text;
    if (this.rest.length > LONGEST_ANSWER) {
      this.fail(new ScpiFailure('too_long', 'The answer does not end.'));
      this.close();
      return;
    }
    const at = this.rest.indexOf('\n');
    if (at < 0) return;
    const line = this.rest.slice(0, at).trim();
    this.rest = this.rest.slice(at + 1);
    const { waiting } = this;
    this.waiting = null;
    waiting?.answer(line);
  }

  private fail(error: ScpiFailure): void {
    const { waiting } = this;
    this.waiting = null;
    waiting?.fail(error);
  }
}
