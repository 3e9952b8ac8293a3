import express, { type NextFunction, type Request, type Response } from 'express';
import { createRequire } from 'node:module';
import { existsSync } from 'node:fs';
import path from 'node:path';
import pino from 'pino';
import * as z from 'zod';
import { escapeHtml, page, PLAYER_SCRIPT } from '../kit/pages';
import { RtmpIngest, type IngestFaults } from '../kit/rtmp-ingest';
import { Tokens } from '../kit/tokens';
import { CATEGORIES, Channel, TITLE_BYTES } from './channel';

/**
 * Emberplay, a made-up place for creators: public on arrival. An ingest, an API, a public page; and a console under
 * `/console`, which stands for what its owner, or misfortune, does there.
 *
 * Environment: PORT, RTMP_PORT, STANDIN_DIR, and EMBERPLAY_GRANT, a lasting token for the channel's owner.
 */
const VIEWER_DELAY_S = 5;
const SCOPES = ['channel:read', 'channel:write', 'ingest:read', 'ingest:write'] as const;
type Scope = (typeof SCOPES)[number];
const REGIONS = ['north', 'south', 'east', 'west'] as const;
const TOKEN_LIFE_MS = 4 * 3_600_000;

const log = pino({ name: 'emberplay' });
const dir = process.env['STANDIN_DIR'];
if (!dir) {
  process.stderr.write('STANDIN_DIR must name a folder\n');
  process.exit(1);
}
const rtmpPort = Number(process.env['RTMP_PORT'] ?? 0);
const channel = new Channel(dir, log);
const tokens = new Tokens(TOKEN_LIFE_MS);
if (process.env['EMBERPLAY_GRANT']) tokens.grant(SCOPES, process.env['EMBERPLAY_GRANT']);
const faults: IngestFaults = { silent: false, stalled: false, cutAfterMs: null, refuseSaying: null };
const ingest = new RtmpIngest(faults, (app, key, drop) => channel.judge(app, key, drop), log);
/** The API does not answer, or only with errors. */
let apiFault: 'none' | 'hangs' | 'fails' = 'none';

const http = express();
http.disable('x-powered-by');
http.use(express.json({ limit: '16kb' }));

http.get('/healthz', (_req, res) => {
  res.json({ process: 'emberplay', up: true, parts: {}, uptimeS: Math.floor(process.uptime()) });
});

// --- The API

http.use(['/v1', '/token'], (_req, res, next) => {
  if (apiFault === 'fails') res.status(503).json({ error: 'unavailable', message: 'Emberplay is resting.' });
  else if (apiFault === 'none') next();
});

http.post('/token', (req, res) => {
  const wish = z
    .object({ grant_type: z.literal('refresh_token'), refresh_token: z.string() })
    .safeParse(req.body);
  const given = wish.success ? tokens.refresh(wish.data.refresh_token, Date.now()) : null;
  if (!given) res.status(400).json({ error: 'invalid_grant' });
  else
    res.json({
      access_token: given.token,
      token_type: 'Bearer',
      expires_in: given.expiresInS,
      scope: given.scopes.join(' '),
    });
});

function needs(scope: Scope) {
  return (req: Request, res: Response, next: NextFunction): void => {
    const token = /^Bearer (.+)$/.exec(req.headers.authorization ?? '')?.[1];
    const scopes = token ? tokens.scopesOf(token, Date.now()) : null;
    if (!scopes)
      res
        .status(401)
        .json({ error: 'unauthorised', message: 'The token is missing, over or was taken back.' });
    else if (!scopes.includes(scope))
      res.status(403).json({ error: 'scope_missing', message: `This needs ${scope}.` });
    else next();
  };
}

function described() {
  const { live } = channel;
  return {
    channel: channel.slug,
    name: channel.name,
    title: channel.title,
    category: channel.category,
    page: `/${channel.slug}/`,
    live: live && {
      since: new Date(live.startedAtMs).toISOString(),
      // Somebody can only watch once a picture has come.
      public: live.health.pictures > 0,
      viewers: 0,
      health: live.health,
    },
  };
}

http.get('/v1/channel', needs('channel:read'), (_req, res) => void res.json(described()));

http.patch('/v1/channel', needs('channel:write'), (req, res) => {
  const wish = z
    .strictObject({
      title: z
        .string()
        .min(1)
        .refine((text) => Buffer.byteLength(text) <= TITLE_BYTES, `at most ${TITLE_BYTES} bytes`)
        .optional(),
      category: z.enum(CATEGORIES).nullable().optional(),
    })
    .safeParse(req.body);
  if (!wish.success) {
    const [first] = wish.error.issues;
    res.status(422).json({ error: 'invalid', field: first!.path.join('.'), message: first!.message });
    return;
  }
  const { title, category } = wish.data;
  channel.change({
    ...(title === undefined ? {} : { title }),
    ...(category === undefined ? {} : { category }),
  });
  res.json(described());
});

http.get('/v1/channel/ingest', needs('ingest:read'), (_req, res) => {
  const address = `rtmp://127.0.0.1:${rtmpPort}/ember`;
  res.json({ key: channel.key, regions: REGIONS.map((region) => ({ region, address })) });
});

http.post('/v1/channel/ingest/key', needs('ingest:write'), (_req, res) => {
  channel.renewKey();
  res.json({ key: channel.key });
});

// --- The public page

http.get('/', (_req, res) => res.redirect(`/${channel.slug}/`));
http.get(`/${channel.slug}/`, (_req, res) => {
  const { live } = channel;
  const picture = live
    ? `<video controls playsinline data-src="live/${live.id}/index.m3u8" aria-label="The channel’s picture"></video>`
    : '<p>Nothing is on just now.</p>';
  const body = `<h1>${escapeHtml(channel.title)}</h1>
<p>${escapeHtml(channel.name)} · ${escapeHtml(channel.category ?? 'no category')} · <strong>${live ? 'on now' : 'off'}</strong></p>
${picture}
<p>Viewers here see everything about ${VIEWER_DELAY_S} s later.</p>`;
  res.type('html').send(
    page({
      place: 'Emberplay',
      title: channel.title,
      body,
      scripts: ['player/hls.js', 'player/player.js'],
    }).replace('<body>', `<body data-live="${live ? live.id : 'off'}">`),
  );
});
http.get(`/${channel.slug}/state`, (_req, res) => {
  res.json({ live: channel.live?.id ?? 'off', title: channel.title });
});
http.get(`/${channel.slug}/player/hls.js`, (_req, res) => {
  const file = createRequire(import.meta.url).resolve('hls.js/dist/hls.min.js');
  res.sendFile(path.basename(file), { root: path.dirname(file) });
});
http.get(`/${channel.slug}/player/player.js`, (_req, res) => void res.type('js').send(PLAYER_SCRIPT));
http.get(`/${channel.slug}/live/:id/:file`, (req, res) => {
  const arrival = channel.arrivals.find(({ id }) => id === req.params.id);
  const name = req.params.file;
  // By its folder: a path with a dot in it, as data folders have, would be taken for a hidden file.
  const root = arrival && /^[a-z0-9]+\.(m3u8|ts)$/.test(name) ? path.join(arrival.dir, 'hls') : null;
  if (!root || !existsSync(path.join(root, name))) res.status(404).end();
  else res.set('Cache-Control', 'no-store').sendFile(name, { root });
});

// --- The console: the owner, misfortune, and whoever wants to see what came

http.get('/console/arrivals', (_req, res) => {
  res.json(
    channel.arrivals.map(({ id, startedAtMs, endedAtMs, endedCleanly, health, dir: folder }) => ({
      id,
      startedAtMs,
      endedAtMs,
      endedCleanly,
      health,
      received: path.join(folder, 'received.flv'),
      packets: path.join(folder, 'packets.csv'),
    })),
  );
});
http.put('/console/faults', (req, res) => {
  const wish = z
    .strictObject({
      silent: z.boolean().default(false),
      stalled: z.boolean().default(false),
      cutAfterMs: z.number().min(0).nullable().default(null),
      refuseSaying: z.string().nullable().default(null),
      api: z.enum(['none', 'hangs', 'fails']).default('none'),
    })
    .safeParse(req.body);
  if (!wish.success) {
    res.status(400).json({ error: wish.error.message });
    return;
  }
  const { api, ...streams } = wish.data;
  apiFault = api;
  Object.assign(faults, streams);
  ingest.applyFaults();
  res.json({ ...faults, api });
});
http.post('/console/cut', (_req, res) => {
  ingest.cutAll();
  res.json({});
});
http.put('/console/category', (req, res) => {
  channel.change({
    category: z.object({ category: z.enum(CATEGORIES).nullable() }).parse(req.body).category,
  });
  res.json(described());
});
http.post('/console/key', (_req, res) => {
  channel.renewKey();
  res.json({});
});
http.post('/console/tokens/expire', (_req, res) => {
  tokens.expireAll();
  res.json({});
});
http.post('/console/tokens/revoke', (_req, res) => {
  tokens.revokeAll();
  res.json({});
});

await ingest.listen(rtmpPort);
const server = http.listen(Number(process.env['PORT'] ?? 0), '127.0.0.1', () => {
  log.info({ address: server.address(), rtmpPort }, 'listening');
});
for (const signal of ['SIGTERM', 'SIGINT']) {
  process.on(signal, () => {
    ingest.close();
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
