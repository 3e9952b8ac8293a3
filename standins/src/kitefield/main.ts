import type { Request, Response } from 'express';
import * as z from 'zod';
import { serveAccounts } from '../kit/accounts';
import { answerBan, answerHide, answerRoomRules, serveChatConsole } from '../kit/chat/chat-page';
import { serveConsolePage } from '../kit/console-page';
import { grantOf, serveEvents } from '../kit/events/event-api';
import { serveEventPages } from '../kit/events/event-pages';
import { openEventPlace } from '../kit/events/event-place';
import type { EventText, PlaceEvent } from '../kit/events/events';
import { refuseInvalid } from '../kit/place';

/**
 * Kitefield, a made-up open video site: events made by its API, received first and published then. Its chat is polled
 * with a cursor, within a daily quota.
 *
 * Environment: PORT, RTMP_PORT, STANDIN_DIR, CLOCK_URL (for booking windows), REDIRECT_ORIGINS, and KITEFIELD_GRANT.
 */
const TOKEN_LIFE_MS = 3_600_000;
const REPLY_CHARS = 240;
const MINUTE_MS = 60_000;
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const QUOTA = { day: 60_000, poll: 1, write: 20 } as const;
const POLL_AFTER_MS = 600;
const MOST_PER_POLL = 200;
const DELAYS_S = { ordinary: 21, short: 8, shortest: 4 } as const;
type Latency = keyof typeof DELAYS_S;

/** May be changed from the console, as real places change them. */
const limits = { title: 96, description: 3600, leastMs: 20 * MINUTE_MS, mostMs: 9 * DAY_MS };

/** The console may let viewers fall further behind than the place says. */
const behind = { moreS: 0 };
const delayS = ({ settings }: EventText) =>
  DELAYS_S[(settings['latency'] as Latency | undefined) ?? 'ordinary'] + behind.moreS;
const parts = openEventPlace(
  'kitefield',
  {
    app: 'kite',
    encoder: { maxHeight: 1080, maxFramesPerS: 60, maxKbps: 8000, keyframeS: 3 },
    goesPublic: 'by_api',
    lapseMs: null,
    patienceMs: 90_000,
    afterPatience: 'gap',
    cleanEnd: 'option',
    secondSender: 'newer_wins',
    longestMs: 10 * HOUR_MS,
    crowd: { seed: 2, most: 132 },
    delayS,
  },
  { tokenLifeMs: TOKEN_LIFE_MS, hasBackup: true },
);
const { place, events, tokens } = parts;
const { http } = place;

serveAccounts(place, tokens, {
  place: 'Kitefield',
  accounts: [
    { id: 'millrace', name: 'Millrace Flour & Baking School' },
    { id: 'bench', name: 'Millrace for trade bakers' },
  ],
  scopes: {
    events: 'make, change, publish and end your events',
    chat: 'read the chat of your events and write in it in your name',
  },
  widest: [],
});

/** As its owner set it. */
const embeds = ({ kept }: PlaceEvent) => kept.settings['embedding'] !== false;
const { told } = serveEvents({
  ...parts,
  scope: 'events',
  words: { title: 'title', description: 'description', startsAt: 'starts_at' },
  limits: () => limits,
  lengthOf: (text) => text.length,
  settings: z
    .strictObject({
      visibility: z.enum(['public', 'unlisted', 'private']),
      audience: z.enum(['general', 'children']).nullable(),
      age: z.enum(['none', '16', '18']),
      category: z.enum(['Talk', 'Food', 'Craft', 'Science']).nullable(),
      language: z.string().max(35).nullable(),
      topics: z.array(z.string().max(30)).max(12),
      latency: z.enum(Object.keys(DELAYS_S) as [Latency, ...Latency[]]),
      rewind: z.boolean(),
      chat: z.boolean(),
      chat_replay: z.boolean(),
      comment_order: z.enum(['newest', 'oldest']),
      starts_on_arrival: z.boolean(),
      ends_with_feed: z.boolean(),
      earning: z.boolean(),
      embedding: z.boolean(),
      syndication: z.boolean(),
      collection: z.string().max(60).nullable(),
      onward_link: z.url().nullable(),
      licence: z.enum(['standard', 'share_alike']),
      captions: z.enum(['off', 'automatic']),
      spherical: z.boolean(),
      sponsored: z.boolean(),
    })
    .partial(),
  placements: (account) => [
    {
      id: 'channel',
      kind: 'channel',
      name: account === 'bench' ? 'For trade bakers' : 'The school',
      missing: null,
    },
  ],
  notReady: ({ kept }) =>
    kept.settings['audience'] ? null : 'Say first who the event is made for (audience): general or children.',
  embeds,
  picture: { needed: false, aspect: [16, 9], minWidth: 960, minHeight: 540, maxBytes: 3_000_000 },
  staleMs: 0,
});

// --- Chat, within the day's quota

const quota = { left: QUOTA.day as number, resetsAtMs: Date.now() + DAY_MS };

function spend(cost: number, res: Response): boolean {
  if (Date.now() >= quota.resetsAtMs)
    Object.assign(quota, { left: QUOTA.day, resetsAtMs: Date.now() + DAY_MS });
  if (quota.left < cost) {
    const retryAfterS = Math.ceil((quota.resetsAtMs - Date.now()) / 1000);
    res.status(429).set('Retry-After', String(retryAfterS));
    res.json({ error: 'quota', message: 'The quota of this day is used up.' });
    return false;
  }
  quota.left -= cost;
  return true;
}

/** The chat of an event of the caller's own. */
function chatOf(id: unknown, res: Response) {
  const event = events.find(String(id));
  if (event?.kept.account === grantOf(res).account) return event.chat;
  res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
  return null;
}

http.get('/v1/events/:id/chat', place.needs('chat'), (req, res) => {
  const chat = chatOf(req.params['id'], res);
  if (!chat || !spend(QUOTA.poll, res)) return;
  const cursor = typeof req.query['cursor'] === 'string' ? req.query['cursor'] : null;
  const messages = chat.after(cursor, MOST_PER_POLL);
  res.json({
    messages,
    reactions: chat.reactions,
    cursor: messages.at(-1)?.seq ?? cursor ?? '0',
    poll_after_ms: POLL_AFTER_MS,
    quota: { left: quota.left, resets_in_ms: quota.resetsAtMs - Date.now() },
  });
});

http.post('/v1/events/:id/chat', place.needs('chat'), (req, res) => {
  const chat = chatOf(req.params['id'], res);
  if (!chat) return;
  const wish = z
    .strictObject({
      text: z.string().min(1).max(REPLY_CHARS, `at most ${REPLY_CHARS}`),
      reply_to: z.string().nullable(),
    })
    .safeParse(req.body);
  if (!wish.success) {
    refuseInvalid(res, wish.error);
    return;
  }
  if (!spend(QUOTA.write, res)) return;
  const owner = { id: 'owner', name: 'Millrace Flour & Baking School', owner: true };
  res.status(201).json(chat.write(owner, wish.data.text, wish.data.reply_to));
});

http.put('/v1/events/:id/chat/:message', place.needs('chat'), (req, res) => {
  const chat = chatOf(req.params['id'], res);
  if (chat && spend(QUOTA.write, res)) answerHide(req, res, chat);
});

http.put('/v1/events/:id/chat/writers/:author', place.needs('chat'), (req, res) => {
  const chat = chatOf(req.params['id'], res);
  if (chat && spend(QUOTA.write, res)) answerBan(req, res, chat);
});

const offered = { slow_s: z.number().int().min(0).max(300) };
const onRules = (req: Request, res: Response) => {
  const chat = chatOf(req.params['id'], res);
  if (chat && spend(QUOTA.poll, res)) answerRoomRules(req, res, chat, offered);
};
http.get('/v1/events/:id/chat-rules', place.needs('chat'), onRules);
http.put('/v1/events/:id/chat-rules', place.needs('chat'), onRules);

serveEventPages(http, events, {
  place: 'Kitefield',
  delayS: ({ kept }) => delayS(kept),
  saysShowing: true,
  embeds,
});

// --- The console

serveChatConsole(http, () => events.all().at(-1)?.chat ?? null);
place.serveRules(limits);
serveConsolePage(http, 'Kitefield', {
  rules: limits,
  actions: [
    { label: 'Use up the day’s quota', method: 'POST', path: '/quota', body: { left: 0 } },
    { label: 'Viewers fall 12 s further behind', method: 'PUT', path: '/behind', body: { moreS: 12 } },
    { label: 'They catch up', method: 'PUT', path: '/behind', body: { moreS: 0 } },
  ],
});
http.get('/console/events', (_req, res) => void res.json(events.all().map(told)));
http.put('/console/behind', (req, res) => {
  behind.moreS = z.object({ moreS: z.number().min(0).max(120) }).parse(req.body).moreS;
  res.json(behind);
});
http.post('/console/quota', (req, res) => {
  quota.left = z.object({ left: z.number().int().min(0) }).parse(req.body).left;
  res.json(quota);
});

await parts.listen();
