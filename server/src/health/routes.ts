import type { Health } from '@juncta/contract/health';
import { sql } from 'drizzle-orm';
import type { Express } from 'express';
import type { App } from '../app';

/** Set once the server begins to drain: proxies and supervisors send nobody here any more. */
export interface HealthState {
  closing: boolean;
}

const PROBE_TIMEOUT_MS = 2000;

/** `GET /healthz`, ahead of all limits: a supervisor asks often and must not be refused. */
export function mountHealth(http: Express, app: App, state: HealthState): void {
  http.get('/healthz', async (_req, res) => {
    const database = await answersInTime(app.db.execute(sql`select 1`));
    const parts: Health['parts'] = {
      database: database ? 'up' : 'down',
      server: state.closing ? 'closing' : 'up',
    };
    const up = Object.values(parts).every((part) => part === 'up');
    const health: Health = { process: 'server', up, parts, uptimeS: Math.floor(process.uptime()) };
    res.status(up ? 200 : 503).json(health);
  });
}

async function answersInTime(query: Promise<unknown>): Promise<boolean> {
  const timeout = new Promise<false>((done) => setTimeout(done, PROBE_TIMEOUT_MS, false).unref());
  return Promise.race([
    query.then(
      () => true as const,
      () => false as const,
    ),
    timeout,
  ]);
}
