import path from 'node:path';
import { WebSocketServer, type WebSocket } from 'ws';
import * as z from 'zod';
import { serveAccounts } from '../kit/accounts';
import {
  answerBan,
  answerHide,
  answerRoomRules,
  CHAT_HTML,
  serveChatConsole,
  serveChatPage,
} from '../kit/chat/chat-page';
import type { Message, Reactions } from '../kit/chat/chat-room';
import { serveConsolePage } from '../kit/console-page';
import { grantOf } from '../kit/events/event-api';
import { showingOf } from '../kit/events/event-pages';
import { embedPage, escapeHtml, page } from '../kit/pages';
import { Place, readPlaceEnvironment, refuseInvalid } from '../kit/place';
import { Tokens } from '../kit/tokens';
import { CATEGORIES, Channel, TITLE_BYTES } from './channel';

/**
 * Emberplay, a made-up place for creators: public on arrival. An ingest, an API, a chat over WebSocket, a public page;
 * and a console under `/console`, which stands for what its owner, or misfortune, does there.
 *
 * Environment: PORT, RTMP_PORT, STANDIN_DIR, and EMBERPLAY_GRANT, a lasting token for the channel's owner.
 */
/** Asked for one by one: without any one of them that part answers 403. */
const SCOPES = {
  'channel:read': 'see your channel and who watches',
  'channel:write': 'change its title, category and settings',
  'ingest:read': 'read your stream key',
  'ingest:write': 'make a new stream key',
  'chat:read': 'read your chat',
  'chat:write': 'write in your chat in your name',
} as const;
/** How much further away than the first each other region is, ms. */
const FAR_REGIONS = { south: 38, east: 74, west: 121 };
const TOKEN_LIFE_MS = 4 * 3_600_000;
const REPLY_BYTES = 420;

const { log, dir, port, rtmpPort } = readPlaceEnvironment('emberplay');
const channel = new Channel(dir, log);
const tokens = new Tokens(TOKEN_LIFE_MS, path.join(dir, 'grants.json'));
const place = new Place(
  {
    name: 'emberplay',
    tokens,
    judge: (app, key, drop) => channel.judge(app, key, drop),
    arrivals: () => channel.arrivals,
  },
  log,
);
const { http } = place;
const needs = (scope: keyof typeof SCOPES) => place.needs(scope);

serveAccounts(place, tokens, {
  place: 'Emberplay',
  accounts: [{ id: channel.slug, name: channel.name }],
  scopes: SCOPES,
  widest: [],
});
http.get('/v1/account', needs('channel:read'), (_req, res) => {
  const { account, scopes, widest } = grantOf(res);
  res.json({ id: account, scopes, widest });
});
http.get('/v1/placements', needs('channel:read'), (_req, res) => {
  const missing =
    channel.category === null
      ? { code: 'no_category', how: 'The channel has no category. Choose one under Channel, Settings.' }
      : null;
  res.json({ placements: [{ id: channel.slug, kind: 'channel', name: channel.name, missing }] });
});

// --- The API

function described() {
  const { live } = channel;
  return {
    channel: channel.slug,
    name: channel.name,
    title: channel.title,
    category: channel.category,
    settings: channel.settings,
    page: `/${channel.slug}/`,
    embed: `/embed/${channel.slug}/`,
    live: live && {
      since: new Date(live.startedAtMs).toISOString(),
      // Somebody can only watch once a picture has come.
      public: live.health.pictures > 0,
      viewers: channel.viewers,
      health: live.health,
    },
  };
}

http.get('/v1/channel', needs('channel:read'), (_req, res) => void res.json(described()));

const inBytes = (most: number) =>
  z
    .string()
    .min(1)
    .refine((text) => Buffer.byteLength(text) <= most, `at most ${most} bytes`);

http.patch('/v1/channel', needs('channel:write'), (req, res) => {
  const wish = z
    .strictObject({
      title: inBytes(TITLE_BYTES).optional(),
      category: z.enum(CATEGORIES).nullable().optional(),
      settings: z
        .strictObject({
          earning: z.boolean(),
          language: z.string().max(35).nullable(),
          topics: z.array(z.string().max(24)).max(6),
          products: z.array(z.url()).max(6),
          sponsored: z.boolean(),
        })
        .partial()
        .optional(),
    })
    .safeParse(req.body);
  if (!wish.success) {
    refuseInvalid(res, wish.error);
    return;
  }
  const { title, category, settings } = wish.data;
  channel.change({
    ...(title === undefined ? {} : { title }),
    ...(category === undefined ? {} : { category }),
    ...(settings === undefined ? {} : { settings: { ...channel.settings, ...settings } }),
  });
  res.json(described());
});

const doors = new Map([['north', rtmpPort]]);
http.get('/v1/channel/ingest', needs('ingest:read'), (_req, res) => {
  const regions = [...doors].map(([region, at]) => ({ region, address: `rtmp://127.0.0.1:${at}/ember` }));
  res.json({ key: channel.key, regions });
});

http.post('/v1/channel/ingest/key', needs('ingest:write'), (_req, res) => {
  channel.renewKey();
  res.json({ key: channel.key });
});

http.post('/v1/chat', needs('chat:write'), (req, res) => {
  const wish = z
    .strictObject({ text: inBytes(REPLY_BYTES), reply_to: z.string().nullable() })
    .safeParse(req.body);
  if (!wish.success) {
    refuseInvalid(res, wish.error);
    return;
  }
  const { text, reply_to } = wish.data;
  res.status(201).json(channel.chat.write({ id: 'owner', name: channel.name, owner: true }, text, reply_to));
});

http.put('/v1/chat/writers/:author', needs('chat:write'), (req, res) => answerBan(req, res, channel.chat));
const offered = { slow_s: z.number().int().min(0).max(120), followers_only: z.boolean() };
http.get('/v1/chat/rules', needs('chat:read'), (req, res) =>
  answerRoomRules(req, res, channel.chat, offered),
);
http.put('/v1/chat/rules', needs('chat:write'), (req, res) =>
  answerRoomRules(req, res, channel.chat, offered),
);

http.put('/v1/chat/:message', needs('chat:write'), (req, res) => answerHide(req, res, channel.chat));

// --- The chat: everything after the last one had, then whatever is written

const sockets = new WebSocketServer({ noServer: true, maxPayload: 4096 });

function follow(socket: WebSocket, after: string | null): void {
  const send = (message: Message) => {
    if (socket.readyState === socket.OPEN) socket.send(JSON.stringify({ type: 'message', message }));
  };
  channel.chat.after(after).forEach(send);
  const sendReactions = (reactions: Reactions) => {
    if (socket.readyState === socket.OPEN) socket.send(JSON.stringify({ type: 'reactions', reactions }));
  };
  sendReactions(channel.chat.reactions);
  channel.chat.on('message', send);
  channel.chat.on('reactions', sendReactions);
  socket.on('error', () => undefined);
  socket.on('close', () => {
    channel.chat.off('message', send);
    channel.chat.off('reactions', sendReactions);
  });
}

// --- The public page

http.get('/', (_req, res) => res.redirect(`/${channel.slug}/`));
http.get(`/${channel.slug}/`, (_req, res) => {
  const { live } = channel;
  const picture = live
    ? `<video controls playsinline data-src="/live/${live.id}/index.m3u8" aria-label="The channel’s picture"></video>`
    : '<p>Nothing is on just now.</p>';
  const body = `<h1>${escapeHtml(channel.title)}</h1>
<p>${escapeHtml(channel.name)} · ${escapeHtml(channel.category ?? 'no category')} · <strong>${live ? 'on now' : 'off'}</strong></p>
${picture}
<p>Viewers here see everything about ${channel.delayS} s later.</p>
${CHAT_HTML}`;
  res.type('html').send(
    page({
      place: 'Emberplay',
      title: channel.title,
      body,
      scripts: ['/player/hls.js', '/player/player.js', '/player/chat.js'],
    }).replace('<body>', `<body data-live="${live ? live.id : 'off'}">`),
  );
});
http.get(`/embed/${channel.slug}/`, (_req, res) => {
  const { live, title } = channel;
  const src = live && `/live/${live.id}/index.m3u8`;
  res.type('html').send(embedPage({ place: 'Emberplay', title, src, live: live?.id ?? 'off' }));
});
http.get(`/embed/${channel.slug}/state`, (_req, res) => {
  res.json({ live: channel.live?.id ?? 'off', title: channel.title });
});
http.get(`/${channel.slug}/state`, (_req, res) => {
  const { live, title, delayS } = channel;
  res.json({
    live: live?.id ?? 'off',
    title,
    showing: live && live.health.pictures > 0 ? showingOf(live.startedAtMs, delayS) : null,
  });
});
serveChatConsole(http, () => channel.chat);
serveConsolePage(http, 'Emberplay', {
  actions: [
    { label: 'Take the category away', method: 'PUT', path: '/category', body: { category: null } },
    {
      label: 'Category: Food and drink',
      method: 'PUT',
      path: '/category',
      body: { category: 'Food and drink' },
    },
    { label: 'Make a new stream key', method: 'POST', path: '/key', body: {} },
    { label: 'Drop every chat line', method: 'POST', path: '/chat/drop', body: {} },
  ],
});
serveChatPage(http, '', (slug) => (slug === channel.slug ? channel.chat : null));

// --- The console

http.post('/console/chat/drop', (_req, res) => {
  for (const socket of sockets.clients) socket.terminate();
  res.json({});
});
http.put('/console/category', (req, res) => {
  channel.change({
    category: z.object({ category: z.enum(CATEGORIES).nullable() }).parse(req.body).category,
  });
  res.json(described());
});
http.put('/console/behind', (req, res) => {
  channel.delayS = z.object({ delayS: z.number().min(0).max(120) }).parse(req.body).delayS;
  res.json({ delayS: channel.delayS });
});
http.post('/console/key', (_req, res) => {
  channel.renewKey();
  res.json({});
});

for (const [region, awayMs] of Object.entries(FAR_REGIONS)) {
  doors.set(region, await place.ingest.listenFar(awayMs));
}
const server = await place.listen(port, rtmpPort);
server.on('upgrade', (req, socket, head) => {
  const url = new URL(req.url ?? '/', 'http://emberplay');
  if (place.apiFault === 'hangs') return;
  const { status } = place.check(req.headers.authorization, 'chat:read');
  if (url.pathname !== '/v1/chat' || place.apiFault === 'fails' || status !== 200) {
    const answer = url.pathname !== '/v1/chat' ? 404 : place.apiFault === 'fails' ? 503 : status;
    socket.end(`HTTP/1.1 ${answer} No\r\nConnection: close\r\n\r\n`);
    return;
  }
  sockets.handleUpgrade(req, socket, head, (open) => follow(open, url.searchParams.get('after')));
});
