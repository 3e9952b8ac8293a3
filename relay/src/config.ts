import type { EncodingMachine } from '@juncta/core/renditions';
import * as z from 'zod';
import { readMachine } from './renditions/machine';

const Environment = z.object({
  JUNCTA_RELAY_DIR: z.string('must name the folder for packets and recordings').min(1),
  JUNCTA_RELAY_HOST: z.string().default('127.0.0.1'),
  JUNCTA_RELAY_PORT: z.coerce.number().int().min(0).max(65535).default(0),
  JUNCTA_RELAY_CONTROL_PORT: z.coerce.number().int().min(0).max(65535).default(0),
  JUNCTA_RELAY_INGEST_PORT: z.coerce.number().int().min(0).max(65535).default(0),
  JUNCTA_RELAY_SECRET: z.string().min(32, 'must have at least 32 characters; the server is given the same'),
  JUNCTA_ALLOW_LOCAL_PLACES: z.enum(['0', '1']).default('0'),
  JUNCTA_ENCODING_CORES: z.coerce.number().min(0).max(256).optional(),
  JUNCTA_ENCODE_COST: z.string().optional(),
  JUNCTA_HTTPS_CERT: z.string().optional(),
  JUNCTA_HTTPS_KEY: z.string().optional(),
  JUNCTA_LOG_LEVEL: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('info'),
});

export interface RelayConfig {
  /** Where packets and recordings are kept. */
  readonly dir: string;
  /** Where desks reach the uplink. */
  readonly host: string;
  readonly port: number;
  /** The server's door, and that of the health check: on loopback, whatever the host. */
  readonly controlPort: number;
  /** Where outside encoders send to. */
  readonly ingestPort: number;
  /** Shared with the server: signs tickets and opens the control door. */
  readonly secret: string;
  /** Whether feeds may go to addresses inside the machine's own network: stand-ins, and houses with places of their own. */
  readonly allowLocalPlaces: boolean;
  /** What may be encoded here, and what it takes. */
  readonly machine: EncodingMachine;
  readonly https: { readonly certFile: string; readonly keyFile: string } | null;
  readonly logLevel: string;
  /**
   * The server has to be back for this long before a desk whose ticket ran out is cut, ms: a page in the background asks for
   * another only once a minute.
   */
  readonly renewLeewayMs: number;
}

const RENEW_LEEWAY_MS = 120_000;

export function readRelayConfig(environment: NodeJS.ProcessEnv): RelayConfig {
  const parsed = Environment.safeParse(environment);
  if (!parsed.success) {
    const lines = parsed.error.issues.map((issue) => `${issue.path.join('.')} ${issue.message}`);
    throw new Error(`The relay's settings do not hold together:\n${lines.join('\n')}`);
  }
  const env = parsed.data;
  return {
    dir: env.JUNCTA_RELAY_DIR,
    host: env.JUNCTA_RELAY_HOST,
    port: env.JUNCTA_RELAY_PORT,
    controlPort: env.JUNCTA_RELAY_CONTROL_PORT,
    ingestPort: env.JUNCTA_RELAY_INGEST_PORT,
    secret: env.JUNCTA_RELAY_SECRET,
    allowLocalPlaces: env.JUNCTA_ALLOW_LOCAL_PLACES === '1',
    machine: readMachine(env.JUNCTA_ENCODE_COST ?? null, env.JUNCTA_ENCODING_CORES ?? null),
    https:
      env.JUNCTA_HTTPS_CERT && env.JUNCTA_HTTPS_KEY
        ? { certFile: env.JUNCTA_HTTPS_CERT, keyFile: env.JUNCTA_HTTPS_KEY }
        : null,
    logLevel: env.JUNCTA_LOG_LEVEL,
    renewLeewayMs: RENEW_LEEWAY_MS,
  };
}
