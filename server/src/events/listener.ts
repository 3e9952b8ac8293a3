import pg from 'pg';
import type { Logger } from 'pino';

const RETRY_MS = 1000;

/**
 * Hears PostgreSQL's notifications on a connection of its own, and connects again whenever it is lost. What was
 * notified in between is not heard: `onConnected` is the moment to look for oneself.
 */
export class Listener {
  private client: pg.Client | undefined;
  private retry: NodeJS.Timeout | undefined;
  private closed = false;

  constructor(
    private readonly url: string,
    private readonly channels: Readonly<Record<string, (message: string) => void>>,
    private readonly onConnected: () => void,
    private readonly log: Logger,
  ) {}

  async start(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.url,
      application_name: 'juncta-listener',
      keepAlive: true,
    });
    this.client = client;
    client.on('notification', ({ channel, payload }) => this.channels[channel]?.(payload ?? ''));
    client.on('error', () => undefined);
    client.on('end', () => this.again());
    try {
      await client.connect();
      for (const channel of Object.keys(this.channels)) await client.query(`listen ${channel}`);
      this.onConnected();
    } catch (error) {
      this.log.warn({ err: error }, 'cannot listen to the database; trying again');
      await client.end().catch(() => undefined);
      this.again();
    }
  }

  async stop(): Promise<void> {
    this.closed = true;
    clearTimeout(this.retry);
    await this.client?.end().catch(() => undefined);
  }

  private again(): void {
    if (this.closed) return;
    clearTimeout(this.retry);
    this.retry = setTimeout(() => void this.start(), RETRY_MS);
  }
}
