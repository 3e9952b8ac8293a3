import { existsSync } from 'node:fs';
import path from 'node:path';
import * as z from 'zod';

const flag = z
  .enum(['0', '1'])
  .default('0')
  .transform((value) => value === '1');

const Environment = z
  .object({
    JUNCTA_DATABASE_URL: z.string().regex(/^postgres(ql)?:\/\//, 'must be a postgresql:// address'),
    JUNCTA_DATABASE_CONNECT_MS: z.coerce.number().int().min(100).max(60_000).default(3000),
    JUNCTA_HOST: z.string().default('127.0.0.1'),
    JUNCTA_PORT: z.coerce.number().int().min(0).max(65535).default(8420),
    JUNCTA_WEB_DIR: z.string(),
    JUNCTA_MIGRATIONS_DIR: z.string(),
    JUNCTA_DEMO: flag,
    JUNCTA_CLOCK_URL: z.url({ protocol: /^http$/ }).optional(),
    JUNCTA_HTTPS_CERT: z.string().optional(),
    JUNCTA_HTTPS_KEY: z.string().optional(),
    JUNCTA_TRUST_PROXY: flag,
    JUNCTA_METRICS_TOKEN: z.string().min(16, 'must have at least 16 characters').optional(),
    JUNCTA_PUBLIC_URL: z.url({ protocol: /^https?$/ }).optional(),
    JUNCTA_RELAY_URL: z.url({ protocol: /^https?$/ }).optional(),
    JUNCTA_RELAY_UPLINK_PORT: z.coerce.number().int().min(1).max(65535).optional(),
    JUNCTA_RELAY_PUBLIC_URL: z.url({ protocol: /^wss?$/ }).optional(),
    JUNCTA_RELAY_INGEST_PORT: z.coerce.number().int().min(1).max(65535).optional(),
    JUNCTA_INGEST_SRT_PORT: z.coerce.number().int().min(1).max(65528).optional(),
    JUNCTA_INGEST_PUBLIC_HOST: z
      .string()
      .regex(/^[^\s/:]+(:\d{1,5})?$/, 'must be a name with a port: live.example:1935')
      .optional(),
    JUNCTA_RELAY_SECRET: z.string().min(32, 'must have at least 32 characters').optional(),
    JUNCTA_SUPERVISOR_URL: z.url({ protocol: /^http$/ }).optional(),
    JUNCTA_SUPERVISOR_SECRET: z.string().min(32).optional(),
    JUNCTA_ROOM_URL: z.url({ protocol: /^wss?$/ }).optional(),
    JUNCTA_ROOM_SECRET: z.string().min(32, 'must have at least 32 characters').optional(),
    JUNCTA_STANDIN_GUESTS_URL: z.url({ protocol: /^http$/ }).optional(),
    JUNCTA_STANDIN_ENCODERS_URL: z.url({ protocol: /^http$/ }).optional(),
    JUNCTA_SECRETS_KEY: z.string().regex(/^[A-Za-z0-9+/]{43}=$/, 'must be 32 bytes in base64'),
    JUNCTA_ALLOW_LOCAL_PLACES: flag,
    JUNCTA_DEMO_PLACES: z.string().optional(),
    JUNCTA_LOG_LEVEL: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('info'),
    NODE_ENV: z.string().optional(),
  })
  .superRefine((env, context) => {
    const refuse = (name: string, message: string) =>
      context.addIssue({ code: 'custom', path: [name], message });
    if (env.NODE_ENV === 'production' && env.JUNCTA_CLOCK_URL) {
      refuse('JUNCTA_CLOCK_URL', 'must not be set in production: the clock there is the machine’s');
    }
    if (env.NODE_ENV === 'production' && env.JUNCTA_DEMO) {
      refuse('JUNCTA_DEMO', 'must not be set in production: its accounts need no password');
    }
    if (!env.JUNCTA_HTTPS_CERT !== !env.JUNCTA_HTTPS_KEY) {
      refuse('JUNCTA_HTTPS_CERT', 'and JUNCTA_HTTPS_KEY are given together or not at all');
    }
    if (!env.JUNCTA_RELAY_URL !== !env.JUNCTA_RELAY_SECRET) {
      refuse('JUNCTA_RELAY_URL', 'and JUNCTA_RELAY_SECRET are given together or not at all');
    }
    if (env.JUNCTA_RELAY_URL && !env.JUNCTA_RELAY_UPLINK_PORT && !env.JUNCTA_RELAY_PUBLIC_URL) {
      refuse('JUNCTA_RELAY_UPLINK_PORT', 'or JUNCTA_RELAY_PUBLIC_URL must say where desks reach the relay');
    }
    if (!env.JUNCTA_ROOM_URL !== !env.JUNCTA_ROOM_SECRET) {
      refuse('JUNCTA_ROOM_URL', 'and JUNCTA_ROOM_SECRET are given together or not at all');
    }
    for (const name of [
      'JUNCTA_HTTPS_CERT',
      'JUNCTA_HTTPS_KEY',
      'JUNCTA_WEB_DIR',
      'JUNCTA_MIGRATIONS_DIR',
    ] as const) {
      const file = env[name];
      if (file && !existsSync(path.resolve(file))) refuse(name, `names ${file}, which does not exist`);
    }
  });

export interface Config {
  readonly databaseUrl: string;
  /** A request waits this long for a connection to the database before it is told to come back. */
  readonly databaseConnectMs: number;
  readonly host: string;
  readonly port: number;
  /** The built web application. */
  readonly webDir: string;
  readonly migrationsDir: string;
  readonly demo: boolean;
  /** Null in production: the machine's clock. */
  readonly clockUrl: string | null;
  readonly https: { readonly certFile: string; readonly keyFile: string } | null;
  /** Whether a proxy in front says whom a request comes from and by which scheme. */
  readonly trustProxy: boolean;
  /** What a reader of `/metrics` has to show; null: there is no such address. */
  readonly metricsToken: string | null;
  /** Where browsers reach this house, without a slash at the end: what links that leave the house begin with. */
  readonly publicUrl: string;
  readonly relay: {
    /** Its control door, on loopback. */
    readonly url: string;
    /** Where desks reach its socket: at this server's own name and this port, … */
    readonly uplinkPort: number;
    /** … unless this says otherwise: `ws(s)://…`, without `/uplink`. */
    readonly publicUrl: string | null;
    /** Where outside encoders send to: at this server's own name and this port, … */
    readonly ingestPort: number;
    /** The first of a few UDP ports beside one another, to which they come by SRT; null: they do not. */
    readonly srtFirstPort: number | null;
    /** … unless this says otherwise: `host:port`. */
    readonly ingestHost: string | null;
    readonly secret: string;
  } | null;
  /** The start command's door, for drills that end a process; null: it is run another way. */
  readonly supervisor: { readonly url: string; readonly secret: string } | null;
  /** The media server that carries guests: its WebSocket on loopback, and the secret it asks for. */
  readonly room: { readonly url: string; readonly secret: string } | null;
  /** Demo only: the helper that plays made-up guests. */
  readonly standInGuestsUrl: string | null;
  /** Demo only: the helper that plays made-up encoders. */
  readonly standInEncodersUrl: string | null;
  /** 32 bytes: locks the keys and tokens of places. */
  readonly secretsKey: Buffer;
  /** Whether places may lie inside the machine's own network. */
  readonly allowLocalPlaces: boolean;
  /** Demo only: where the stand-in places are, by their kind, and the lasting token of each account's owner. */
  readonly demoPlaces: Readonly<Record<string, { readonly url: string; readonly grant: string }>>;
  readonly logLevel: string;
}

/** Reads the settings from the environment, or throws with every wrong one named. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const parsed = Environment.safeParse(environment);
  if (!parsed.success) {
    const lines = parsed.error.issues.map((issue) => `${issue.path.join('.')} ${issue.message}`);
    throw new Error(`The settings do not hold together:\n${lines.join('\n')}`);
  }
  const env = parsed.data;
  return {
    databaseUrl: env.JUNCTA_DATABASE_URL,
    databaseConnectMs: env.JUNCTA_DATABASE_CONNECT_MS,
    host: env.JUNCTA_HOST,
    port: env.JUNCTA_PORT,
    webDir: path.resolve(env.JUNCTA_WEB_DIR),
    migrationsDir: path.resolve(env.JUNCTA_MIGRATIONS_DIR),
    demo: env.JUNCTA_DEMO,
    clockUrl: env.JUNCTA_CLOCK_URL ?? null,
    https:
      env.JUNCTA_HTTPS_CERT && env.JUNCTA_HTTPS_KEY
        ? { certFile: env.JUNCTA_HTTPS_CERT, keyFile: env.JUNCTA_HTTPS_KEY }
        : null,
    trustProxy: env.JUNCTA_TRUST_PROXY,
    metricsToken: env.JUNCTA_METRICS_TOKEN ?? null,
    publicUrl: (
      env.JUNCTA_PUBLIC_URL ?? `${env.JUNCTA_HTTPS_CERT ? 'https' : 'http'}://localhost:${env.JUNCTA_PORT}`
    ).replace(/\/+$/, ''),
    relay:
      env.JUNCTA_RELAY_URL && env.JUNCTA_RELAY_SECRET
        ? {
            url: env.JUNCTA_RELAY_URL,
            uplinkPort: env.JUNCTA_RELAY_UPLINK_PORT ?? 0,
            publicUrl: env.JUNCTA_RELAY_PUBLIC_URL ?? null,
            ingestPort: env.JUNCTA_RELAY_INGEST_PORT ?? 0,
            srtFirstPort: env.JUNCTA_INGEST_SRT_PORT ?? null,
            ingestHost: env.JUNCTA_INGEST_PUBLIC_HOST ?? null,
            secret: env.JUNCTA_RELAY_SECRET,
          }
        : null,
    supervisor:
      env.JUNCTA_SUPERVISOR_URL && env.JUNCTA_SUPERVISOR_SECRET
        ? { url: env.JUNCTA_SUPERVISOR_URL, secret: env.JUNCTA_SUPERVISOR_SECRET }
        : null,
    room:
      env.JUNCTA_ROOM_URL && env.JUNCTA_ROOM_SECRET
        ? { url: env.JUNCTA_ROOM_URL, secret: env.JUNCTA_ROOM_SECRET }
        : null,
    standInGuestsUrl: env.JUNCTA_STANDIN_GUESTS_URL ?? null,
    standInEncodersUrl: env.JUNCTA_STANDIN_ENCODERS_URL ?? null,
    secretsKey: Buffer.from(env.JUNCTA_SECRETS_KEY, 'base64'),
    allowLocalPlaces: env.JUNCTA_ALLOW_LOCAL_PLACES,
    demoPlaces: JSON.parse(env.JUNCTA_DEMO_PLACES ?? '{}') as Config['demoPlaces'],
    logLevel: env.JUNCTA_LOG_LEVEL,
  };
}
