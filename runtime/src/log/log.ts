import pino, { type DestinationStream, type Logger } from 'pino';
import { LineSink } from './line-sink';

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

/** A process's standard output, as a sink that never blocks it. */
export function standardOutput(): DestinationStream {
  const sink = new LineSink(1);
  process.once('exit', () => sink.flushAtExit());
  return sink;
}

/**
 * Structured logs, one JSON object a line.
 *
 * @param name of the process
 * @param level the least that is logged: debug, info, warn, error, silent
 */
export function makeLog(
  name: string,
  level: string,
  destination: DestinationStream = standardOutput(),
): Logger {
  return pino(
    {
      name,
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
    destination,
  );
}

/**
 * An error for the log: what, where and why, and nothing that hangs on it. A failed query carries its parameters,
 * password hashes among them, and an error of the database's client the whole connection with its secret.
 */
export function describeError(error: unknown): object {
  if (!(error instanceof Error)) return { type: typeof error };
  const { code, query, params } = error as { code?: unknown; query?: unknown; params?: unknown };
  // A failed query's own message repeats its parameters.
  if (typeof query === 'string' && params !== undefined)
    return { type: 'FailedQuery', query, cause: describeError(error.cause) };
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
