import { connect, createServer, type AddressInfo, type Socket } from 'node:net';

/** A line to somewhere that carries so much towards it and no more, and keeps what it cannot carry yet, as networks do. */
export class SlowLine {
  /** Towards the other end, kbit/s. */
  kbps = Infinity;
  private readonly sockets = new Set<Socket>();
  private readonly server = createServer((from) => this.join(from));

  private constructor(private readonly toPort: number) {}

  /** @param toPort on this machine; nothing needs to listen there yet */
  static async open(toPort: number): Promise<SlowLine> {
    const line = new SlowLine(toPort);
    await new Promise<void>((done) => line.server.listen(0, '127.0.0.1', done));
    return line;
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise((done) => this.server.close(done));
  }

  private join(from: Socket): void {
    const to = connect(this.toPort, '127.0.0.1');
    for (const socket of [from, to]) {
      this.sockets.add(socket);
      socket.on('error', () => undefined);
      socket.on('close', () => {
        this.sockets.delete(socket);
        (socket === from ? to : from).destroy();
      });
    }
    to.pipe(from);
    // When the line will have carried all that it took.
    let freeAtMs = 0;
    from.on('data', (bytes) => {
      to.write(bytes);
      const nowMs = performance.now();
      freeAtMs = Math.max(freeAtMs, nowMs) + (bytes.length * 8) / this.kbps;
      if (freeAtMs - nowMs < 20) return;
      from.pause();
      setTimeout(() => from.resume(), freeAtMs - nowMs);
    });
  }
}
