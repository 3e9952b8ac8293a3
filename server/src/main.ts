import { makeLog, RecentLines, standardOutput } from '@juncta/runtime/log';
import { sql } from 'drizzle-orm';
import { securityClock } from './clock/server-clock';
import { readConfig, type Config } from './config';
import { connect, migrateDatabase } from './database/connect';
import { startServer } from './server';
import { makeInvitation } from './team/invitations';
import { member } from './team/schema';

/**
 * `node main.mjs`             serves until SIGTERM or SIGINT
 * `node main.mjs invitation`  prints, as JSON, an invitation for a producer, if the team has nobody yet; with `--rescue`
 *                             in any case, for whoever runs the machine when nobody of the team can get in any more
 */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  if (process.argv[2] === 'invitation') return printInvitation(config, process.argv[3] === '--rescue');
  const recent = new RecentLines();
  const log = makeLog('server', config.logLevel, recent.through(standardOutput()));
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

async function printInvitation(config: Config, isRescue: boolean): Promise<void> {
  const connection = connect(config.databaseUrl, config.databaseConnectMs, makeLog('invitation', 'silent'));
  await migrateDatabase(connection, config.migrationsDir);
  const [row] = await connection.db.select({ members: sql<number>`count(*)::int` }).from(member);
  const token =
    row!.members === 0 || isRescue
      ? (await makeInvitation(connection.db, securityClock, 'producer', null)).token
      : null;
  process.stdout.write(`${JSON.stringify({ token })}\n`);
  await connection.pool.end();
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
