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
