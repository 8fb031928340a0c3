import type { Server, Socket } from 'node:net';

/** A server on the loopback whose connections can be cut, as a cable that is pulled. */
export class CuttableServer {
  private readonly sockets = new Set<Socket>();

  constructor(private readonly server: Server) {
    server.on('connection', (socket) => {
      this.sockets.add(socket);
      socket.on('error', () => {}).on('close', () => this.sockets.delete(socket));
    });
  }

  /** @returns the port, a free one where 0 is asked for */
  async listen(port = 0): Promise<number> {
    await new Promise<void>((done, failed) => this.server.once('error', failed).listen(port, '127.0.0.1', done));
    return (this.server.address() as { port: number }).port;
  }

  /** Cuts the connections there are. */
  cut(): void {
    for (const socket of this.sockets) socket.destroy();
  }

  async stop(): Promise<void> {
    this.cut();
    await new Promise<void>((done) => this.server.close(() => done()));
  }
}
