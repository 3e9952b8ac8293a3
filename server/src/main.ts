import { sql } from 'drizzle-orm';
import pino from 'pino';
import { securityClock } from './clock/server-clock';
import { readConfig, type Config } from './config';
import { connect, migrateDatabase } from './database/connect';
import { makeLog, RecentLines } from './log';
import { startServer } from './server';
import { makeInvitation } from './team/invitations';
import { member } from './team/schema';

/**
 * `node main.mjs`             serves until SIGTERM or SIGINT
 * `node main.mjs invitation`  prints, as JSON, an invitation for a producer, if the team has nobody yet
 */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  if (process.argv[2] === 'invitation') return printFirstInvitation(config);
  const recent = new RecentLines();
  const log = makeLog(config.logLevel, recent.through(pino.destination(1)));
  const server = await startServer(config, log, { recent });
  let closing = false;
  for (const signal of ['SIGTERM', 'SIGINT'] as const) {
    process.on(signal, () => {
      if (closing) return;
      closing = true;
      log.info({ signal }, 'closing');
      server.close().then(
        () => process.exit(0),
        (error: unknown) => {
          log.error({ err: error }, 'did not close in good order');
          process.exit(1);
        },
      );
    });
  }
}

async function printFirstInvitation(config: Config): Promise<void> {
  const connection = connect(config.databaseUrl, config.databaseConnectMs, makeLog('silent'));
  await migrateDatabase(connection, config.migrationsDir);
  const [row] = await connection.db.select({ members: sql<number>`count(*)::int` }).from(member);
  const token =
    row!.members === 0 ? (await makeInvitation(connection.db, securityClock, 'producer', null)).token : null;
  process.stdout.write(`${JSON.stringify({ token })}\n`);
  await connection.pool.end();
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
