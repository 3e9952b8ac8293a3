import { makeLog } from '@juncta/runtime/log';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { existsSync } from 'node:fs';
import type { Server } from 'node:http';
import { createRequire } from 'node:module';
import path from 'node:path';
import type { Logger } from 'pino';
import * as z from 'zod';
import { endPackagers, type Arrival } from './ingest/arrival';
import { CHAT_SCRIPT, PLAYER_SCRIPT } from './pages';
import { RtmpIngest, type IngestFaults, type Verdict } from './ingest/rtmp-ingest';
import type { Grant, Tokens } from './tokens';

/** What every made-up place has: an ingest, an API behind short tokens, public pages, and a console for its owner. */
export interface PlaceParts {
  /** As it is called in logs and health: lower case. */
  readonly name: string;
  readonly tokens: Tokens;
  judge(app: string, key: string, drop: (says: string) => void): Verdict;
  /** Everything that has come, oldest first. */
  arrivals(): readonly Arrival[];
  /** Every so many requests to its API it answers 503, and has done nothing. */
  readonly restsEvery?: number;
}

const Faults = z.strictObject({
  silent: z.boolean().default(false),
  stalled: z.boolean().default(false),
  cutAfterMs: z.number().min(0).nullable().default(null),
  refuseSaying: z.string().nullable().default(null),
  api: z.enum(['none', 'hangs', 'fails']).default('none'),
});

const TokenWish = z.discriminatedUnion('grant_type', [
  z.object({ grant_type: z.literal('refresh_token'), refresh_token: z.string() }),
  z.object({
    grant_type: z.literal('authorization_code'),
    client_id: z.string(),
    code: z.string(),
    redirect_uri: z.string(),
    code_verifier: z.string().min(43).max(128),
  }),
]);

interface Checked {
  readonly status: 200 | 401 | 403;
  readonly body: object;
  readonly grant: Grant | null;
}

export class Place {
  readonly http: Express = express();
  readonly ingest: RtmpIngest;
  private readonly faults: IngestFaults = {
    silent: false,
    stalled: false,
    cutAfterMs: null,
    refuseSaying: null,
  };
  /** The API does not answer, or only with errors. */
  apiFault: 'none' | 'hangs' | 'fails' = 'none';
  private asked = 0;

  constructor(
    private readonly parts: PlaceParts,
    private readonly log: Logger,
  ) {
    const { http } = this;
    this.ingest = new RtmpIngest(this.faults, (app, key, drop) => parts.judge(app, key, drop), log);
    http.disable('x-powered-by');
    http.use(express.json({ limit: '32kb' }));
    http.get('/healthz', (_req, res) => {
      res.json({ process: parts.name, up: true, parts: {}, uptimeS: Math.floor(process.uptime()) });
    });
    http.use(['/v1', '/token'], (_req, res, next) => {
      this.asked += 1;
      const rests = parts.restsEvery !== undefined && this.asked % parts.restsEvery === 0;
      if (this.apiFault === 'fails' || rests)
        res.status(503).json({ error: 'unavailable', message: `${parts.name} is resting.` });
      else if (this.apiFault === 'none') next();
    });
    // A form and nothing else, as RFC 6749 (4.1.3 and 6) has it.
    http.post('/token', express.urlencoded({ extended: false, limit: '8kb' }), (req, res) => {
      if (req.is('application/x-www-form-urlencoded')) this.giveToken(req, res);
      else res.status(400).json({ error: 'invalid_request', message: 'A token is asked for with a form.' });
    });
    this.servePlayer();
    this.serveConsole();
  }

  /** Lets through whoever has a good token with this scope. */
  needs(scope: string) {
    return (req: Request, res: Response, next: NextFunction): void => {
      const { status, body, grant } = this.check(req.headers.authorization, scope);
      if (status === 200) {
        res.locals['grant'] = grant;
        next();
      } else res.status(status).json(body);
    };
  }

  check(authorization: string | undefined, scope: string): Checked {
    const token = /^Bearer (.+)$/.exec(authorization ?? '')?.[1];
    const grant = token ? this.parts.tokens.grantOf(token, Date.now()) : null;
    if (!grant) {
      const message = 'The token is missing, over or was taken back.';
      return { status: 401, body: { error: 'unauthorised', message }, grant: null };
    }
    if (!grant.scopes.includes(scope)) {
      const message = `This needs the right ${scope}, which its owner did not give.`;
      return { status: 403, body: { error: 'scope_missing', message }, grant: null };
    }
    return { status: 200, body: {}, grant };
  }

  async listen(port: number, rtmpPort: number): Promise<Server> {
    await this.ingest.listen(rtmpPort);
    const server = this.http.listen(port, '127.0.0.1', () => {
      this.log.info({ address: server.address(), rtmpPort }, 'listening');
    });
    for (const signal of ['SIGTERM', 'SIGINT']) {
      process.on(signal, () => void this.close(server));
    }
    return server;
  }

  private async close(server: Server): Promise<void> {
    this.ingest.close();
    const closed = new Promise((done) => server.close(done));
    server.closeAllConnections();
    // Sockets that were upgraded are not the server's any more, and would keep it.
    await Promise.race([closed, new Promise((late) => setTimeout(late, 300))]);
    await endPackagers();
    process.exit(0);
  }

  private giveToken(req: Request, res: Response): void {
    const { tokens } = this.parts;
    const wish = TokenWish.safeParse(req.body);
    const lasting = !wish.success
      ? null
      : wish.data.grant_type === 'refresh_token'
        ? wish.data.refresh_token
        : tokens.exchange(wish.data.code, wish.data.redirect_uri, wish.data.code_verifier, Date.now());
    const given = lasting === null ? null : tokens.refresh(lasting, Date.now());
    if (!given) {
      res
        .status(400)
        .json({ error: 'invalid_grant', message: 'The authorisation is over or was taken back.' });
      return;
    }
    res.json({
      refresh_token: lasting,
      access_token: given.token,
      token_type: 'Bearer',
      expires_in: given.expiresInS,
      scope: given.scopes.join(' '),
    });
  }

  /** Lets the console change what the place allows, as real places do without a word. */
  serveRules(rules: Record<string, number>): void {
    this.http.put('/console/rules', (req, res) => {
      const names = Object.keys(rules) as [string, ...string[]];
      const wish = z.partialRecord(z.enum(names), z.number().min(0)).safeParse(req.body);
      if (wish.success) Object.assign(rules, wish.data);
      res.status(wish.success ? 200 : 400).json(rules);
    });
  }

  /** What pages play: by addresses that do not depend on where the page is. */
  private servePlayer(): void {
    const { http } = this;
    http.get('/player/hls.js', (_req, res) => {
      const file = createRequire(import.meta.url).resolve('hls.js/dist/hls.min.js');
      res.sendFile(path.basename(file), { root: path.dirname(file) });
    });
    http.get('/player/player.js', (_req, res) => void res.type('js').send(PLAYER_SCRIPT));
    http.get('/player/chat.js', (_req, res) => void res.type('js').send(CHAT_SCRIPT));
    http.get('/live/:id/:file', (req, res) => {
      const arrival = this.parts.arrivals().find(({ id }) => id === req.params.id);
      const name = req.params.file;
      // By its folder: a path with a dot in it, as data folders have, would be taken for a hidden file.
      const root = arrival && /^[a-z0-9]+\.(m3u8|ts)$/.test(name) ? path.join(arrival.dir, 'hls') : null;
      if (!root || !existsSync(path.join(root, name))) res.status(404).end();
      else res.set('Cache-Control', 'no-store').sendFile(name, { root });
    });
  }

  /** The owner, misfortune, and whoever wants to see what came. */
  private serveConsole(): void {
    const { http } = this;
    http.get('/console/arrivals', (_req, res) => {
      res.json(
        this.parts.arrivals().map(({ id, startedAtMs, endedAtMs, endedCleanly, health, dir }) => ({
          id,
          startedAtMs,
          endedAtMs,
          endedCleanly,
          health,
          received: path.join(dir, 'received.flv'),
          packets: path.join(dir, 'packets.csv'),
        })),
      );
    });
    http.put('/console/faults', (req, res) => {
      const wish = Faults.safeParse(req.body);
      if (!wish.success) {
        res.status(400).json({ error: wish.error.message });
        return;
      }
      const { api, ...streams } = wish.data;
      this.apiFault = api;
      Object.assign(this.faults, streams);
      this.ingest.applyFaults();
      res.json({ ...this.faults, api });
    });
    http.post('/console/cut', (_req, res) => {
      this.ingest.cutAll();
      res.json({});
    });
    http.post('/console/tokens/expire', (_req, res) => {
      this.parts.tokens.expireAll();
      res.json({});
    });
    http.post('/console/tokens/revoke', (_req, res) => {
      this.parts.tokens.revokeAll();
      res.json({});
    });
  }
}

/** A place's settings: PORT, RTMP_PORT, STANDIN_DIR. Without a folder it cannot be. */
export function readPlaceEnvironment(name: string) {
  const log = makeLog(name, 'info');
  const dir = process.env['STANDIN_DIR'];
  if (!dir) {
    process.stderr.write('STANDIN_DIR must name a folder\n');
    process.exit(1);
  }
  const [port, rtmpPort] = [Number(process.env['PORT'] ?? 0), Number(process.env['RTMP_PORT'] ?? 0)];
  return { log, dir, port, rtmpPort };
}

/** The first thing that is wrong with a request, by its field, as a place says it, with the limit it went over. */
export function refuseInvalid(res: Response, error: z.ZodError): void {
  const [first] = error.issues;
  const field = first!.path.join('.');
  const limit = /^at most (\d+)$/.exec(first!.message)?.[1];
  res.status(422).json({
    error: 'invalid',
    field,
    message: `${field}: ${first!.message}`,
    ...(limit ? { limit: Number(limit) } : {}),
  });
}
