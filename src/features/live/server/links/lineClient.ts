import { connect } from 'node:net';
import type { Duplex } from 'node:stream';
import { LinkFailure } from './link';
import { reachedAddress, unreachable } from './reachedAddress';

const LONGEST_ANSWER = 16 * 1024;

/** A way to an instrument that answers line by line: a line a message, one question at a time. */
export class LineClient {
  private rest = '';
  private waiting: { answer: (line: string) => void; fail: (error: LinkFailure) => void } | null = null;
  private lost = false;

  /** @param hangUp ends the stream when what was sent is on its way */
  constructor(
    private readonly stream: Duplex,
    private readonly timeout_ms: number,
    private readonly hangUp: () => void,
  ) {
    stream.setEncoding('latin1');
    stream.on('data', (text) => this.take(String(text)));
    const gone = () => {
      this.lost = true;
      this.fail(new LinkFailure('dropped', 'The connection was cut.'));
    };
    stream.on('error', gone).on('close', gone);
  }

  /** @throws LinkFailure where nothing listens at the address */
  static async connect(host: string, port: number, timeout_ms: number): Promise<LineClient> {
    const socket = connect({ host: await reachedAddress(host, port), port });
    await new Promise<void>((done, failed) => {
      const refuse = (code?: string) => {
        clearTimeout(timer);
        socket.destroy();
        failed(unreachable(host, port, code));
      };
      const timer = setTimeout(refuse, timeout_ms);
      socket.once('error', (e: NodeJS.ErrnoException) => refuse(e.code));
      socket.once('connect', () => {
        clearTimeout(timer);
        socket.removeAllListeners('error');
        done();
      });
    });
    socket.setNoDelay(true);
    return new LineClient(socket, timeout_ms, () => socket.destroySoon());
  }

  /**
   * Sends a query and waits for its line. An answer that comes too late would be taken for the next one's, so the connection is given up.
   */
  query(text: string): Promise<string> {
    return new Promise((answer, fail) => {
      const timer = setTimeout(() => {
        this.fail(new LinkFailure('timeout', `No answer to ${text} within ${this.timeout_ms / 1000} s.`));
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
      if (this.lost) this.fail(new LinkFailure('dropped', 'The connection was cut.'));
      else this.stream.write(`${text}\n`);
    });
  }

  send(text: string): void {
    if (!this.lost) this.stream.write(`${text}\n`);
  }

  /** What was sent is on its way before the connection ends. */
  close(): void {
    this.hangUp();
  }

  private take(text: string): void {
    this.rest += text;
    if (this.rest.length > LONGEST_ANSWER) {
      this.fail(new LinkFailure('too_long', 'The answer does not end.'));
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

  private fail(error: LinkFailure): void {
    const { waiting } = this;
    this.waiting = null;
    waiting?.fail(error);
  }
}
