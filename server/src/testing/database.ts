import { randomBytes, randomInt } from 'node:crypto';
import { connect as connectSocket, createServer, type Server, type Socket } from 'node:net';
import pg from 'pg';

/** The cluster that `./test` starts for the specs: an administrator's address in the environment. */
function clusterUrl(): string {
  const url = process.env['JUNCTA_TEST_DATABASE_URL'];
  if (!url) throw new Error('JUNCTA_TEST_DATABASE_URL is not set: run the specs through ./test');
  return url;
}

async function administer(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: clusterUrl() });
  await client.connect();
  await client.query(sql);
  await client.end();
}

/** A new, empty database behind a line that can be cut. */
export interface TestDatabase {
  readonly url: string;
  /** As if the database were gone: connections break, and new ones are refused. */
  cut(): void;
  mend(): Promise<void>;
  drop(): Promise<void>;
}

export async function makeDatabase(): Promise<TestDatabase> {
  const name = `t_${randomBytes(6).toString('hex')}`;
  await administer(`create database ${name}`);
  const url = new URL(clusterUrl());
  url.pathname = `/${name}`;
  const line = await Line.open(Number(url.port));
  url.port = String(line.port);
  return {
    url: url.toString(),
    cut: () => line.cut(),
    mend: () => line.mend(),
    async drop() {
      line.cut();
      await administer(`drop database ${name} with (force)`);
    },
  };
}

/** A TCP line to a port, between the server and its database. */
class Line {
  private server: Server | undefined;
  private readonly sockets = new Set<Socket>();
  port = 0;

  private constructor(private readonly to: number) {}

  static async open(to: number): Promise<Line> {
    const line = new Line(to);
    for (;;) {
      // Below the ports of outgoing connections: one of those could take it while the line is cut.
      line.port = 10_000 + randomInt(10_000);
      try {
        await line.mend();
        return line;
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
      }
    }
  }

  cut(): void {
    this.server?.close();
    for (const socket of this.sockets) socket.destroy();
  }

  async mend(): Promise<void> {
    const server = createServer((near) => {
      const far = connectSocket(this.to, '127.0.0.1');
      for (const [one, other] of [
        [near, far],
        [far, near],
      ] as const) {
        this.sockets.add(one);
        one.on('close', () => {
          this.sockets.delete(one);
          other.destroy();
        });
        one.on('error', () => other.destroy());
        one.pipe(other);
      }
    });
    this.server = server;
    await new Promise<void>((done, failed) => {
      server.once('error', failed);
      server.listen(this.port, '127.0.0.1', done);
    });
  }
}
