import { drizzle, type NodePgDatabase, type NodePgTransaction } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import type { ExtractTablesWithRelations } from 'drizzle-orm';
import pg from 'pg';
import type { Logger } from 'pino';

export type Database = NodePgDatabase;
export type Transaction = NodePgTransaction<
  Record<string, never>,
  ExtractTablesWithRelations<Record<string, never>>
>;
/** What a store's function takes: the caller decides whether it runs in a transaction. */
export type Queryable = Database | Transaction;

export interface DatabaseConnection {
  readonly db: Database;
  readonly pool: pg.Pool;
}

/** A request waits this long for an answer before it is told to come back. */
const QUERY_TIMEOUT_MS = 10_000;

/** `connectMs`: how long a request waits for a connection before it is told to come back. */
export function connect(url: string, connectMs: number, log: Logger): DatabaseConnection {
  const pool = new pg.Pool({
    connectionString: url,
    max: 16,
    connectionTimeoutMillis: connectMs,
    query_timeout: QUERY_TIMEOUT_MS,
    statement_timeout: QUERY_TIMEOUT_MS,
    application_name: 'juncta-server',
  });
  // Idle connections break when the database restarts. The pool replaces them; without a listener Node ends.
  pool.on('error', (error) => log.warn({ err: error }, 'a database connection broke'));
  // And so does one in the middle of a transaction: whoever holds it is told by the next query, and Node must not end.
  pool.on('connect', (client) => {
    client.on('error', (error) => log.warn({ err: error }, 'a database connection broke'));
  });
  return { db: drizzle(pool), pool };
}

/** Brings the tables up to this version. Several servers may do so at once: one does it, the others wait. */
export async function migrateDatabase({ pool }: DatabaseConnection, folder: string): Promise<void> {
  const client = await pool.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
    await migrate(drizzle(client), { migrationsFolder: folder });
  } finally {
    await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]).catch(() => undefined);
    client.release();
  }
}
/** Any number that nothing else in this database locks. */
const MIGRATION_LOCK = 7_346_201;

/** Whether an error means that the database cannot be reached just now, rather than that we asked wrongly. */
export function isDatabaseAway(error: unknown): boolean {
  for (let e: unknown = error; e instanceof Error; e = e.cause) {
    const code = (e as { code?: unknown }).code;
    if (typeof code === 'string' && AWAY_CODES.test(code)) return true;
    if (AWAY_MESSAGES.test(e.message)) return true;
    if (e instanceof AggregateError && e.errors.some(isDatabaseAway)) return true;
  }
  return false;
}
/** SQLSTATE class 08 (connection), 57P01–57P03 (shutting down, starting up), and Node's own. */
const AWAY_CODES = /^(08\w{3}|57P0[1-3]|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|EHOSTUNREACH)$/;
const AWAY_MESSAGES =
  /Connection terminated|timeout exceeded when trying to connect|Query read timeout|client has encountered a connection error/i;
