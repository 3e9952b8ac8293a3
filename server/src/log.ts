import { DrizzleQueryError } from 'drizzle-orm';
import pino, { type DestinationStream, type Logger } from 'pino';

/** Wherever these names stand in what is logged, their values do not. */
const SECRET_NAMES = [
  'password',
  'current',
  'token',
  'passwordHash',
  'tokenHash',
  'streamKey',
  'key',
  'secret',
  'cookie',
  'authorization',
  '"set-cookie"',
];
const DEPTHS = ['', '*.', '*.*.', '*.*.*.'];

/** Structured logs, one JSON object a line, on standard output or `destination`. */
export function makeLog(level: string, destination?: DestinationStream): Logger {
  return pino(
    {
      name: 'server',
      level,
      serializers: { err: describeError },
      redact: {
        paths: SECRET_NAMES.flatMap((name) =>
          DEPTHS.map((depth) =>
            name.startsWith('"') ? `${depth.replace(/\.$/, '')}[${name}]` : depth + name,
          ),
        ),
        censor: '[redacted]',
      },
    },
    destination ?? pino.destination(1),
  );
}

/**
 * An error for the log: what, where and why, and nothing that hangs on it. A failed query carries its parameters,
 * password hashes among them, and an error of the database's client the whole connection with its secret.
 */
export function describeError(error: unknown): object {
  if (error instanceof DrizzleQueryError) {
    return { type: 'DrizzleQueryError', query: error.query, cause: describeError(error.cause) };
  }
  if (!(error instanceof Error)) return { type: typeof error };
  const { code } = error as { code?: unknown };
  return {
    type: error.name,
    message: error.message,
    ...(typeof code === 'string' ? { code } : {}),
    stack: error.stack,
    ...(error.cause === undefined ? {} : { cause: describeError(error.cause) }),
  };
}

const LINES_KEPT = 2000;

/** The last lines of the log, kept for whoever has to find out what went wrong just now. */
export class RecentLines {
  private readonly kept: string[] = [];

  /** Lines go on to `destination`. */
  through(destination: DestinationStream): DestinationStream {
    return {
      write: (line) => {
        this.kept.push(line);
        if (this.kept.length > LINES_KEPT) this.kept.shift();
        destination.write(line);
      },
    };
  }

  /** Oldest first; each is JSON. */
  lines(): readonly string[] {
    return this.kept;
  }
}
