import type { Request, Response } from 'express';
import * as z from 'zod';
import { serveAccounts } from '../kit/accounts';
import type { Message, Reactions } from '../kit/chat/chat-room';
import { answerHide, answerRoomRules, serveChatConsole } from '../kit/chat/chat-page';
import { serveConsolePage } from '../kit/console-page';
import type { Aside } from '../kit/chat/crowd';
import { grantOf, serveEvents, type Placement } from '../kit/events/event-api';
import { serveEventPages } from '../kit/events/event-pages';
import { openEventPlace } from '../kit/events/event-place';
import { refuseInvalid } from '../kit/place';

/**
 * Porchway, a made-up social network: profile, pages and circles, public on arrival from the slot on, and over with the
 * feed. Circles have to let the application in; some things need followers; now and then it does not feel like it.
 *
 * Environment: PORT, RTMP_PORT, STANDIN_DIR, CLOCK_URL, REDIRECT_ORIGINS, and PORCHWAY_GRANT.
 */
const TOKEN_LIFE_MS = 2 * 3_600_000;
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const VIEWER_DELAY_S = 13;
const HASHTAGS = 4;
/** The longest comment, graphemes. */
const COMMENT = 600;
const FOLLOWERS_FOR_TARGETING = 220;
/** Every so many requests it answers 503, and has done nothing. */
const RESTS_EVERY = 11;
/** What viewers write to the house alone. */
const PRIVATE: readonly Aside[] = [
  { afterS: 23, who: 8, kind: 'private', text: 'I paid for Tuesday twice. Whom do I write to about it?' },
];
/** Of `<select>`: the widest first. */
const PROFILE_VISIBILITIES = ['everybody', 'acquaintances', 'only_me'];

const limits = { title: 84, description: 1400, leastMs: 0, mostMs: 90 * DAY_MS };
const owned = { circleAdmits: false, followers: 180 };

const parts = openEventPlace(
  'porchway',
  {
    app: 'porch',
    encoder: { maxHeight: 1080, maxFramesPerS: 30, maxKbps: 5500, keyframeS: 2 },
    goesPublic: 'from_slot',
    lapseMs: 50 * 60_000,
    patienceMs: 60_000,
    afterPatience: 'ends',
    cleanEnd: 'ends',
    secondSender: 'refused',
    longestMs: 5 * HOUR_MS,
    crowd: { seed: 7, most: 61, aside: PRIVATE },
    delayS: () => VIEWER_DELAY_S,
  },
  { tokenLifeMs: TOKEN_LIFE_MS, restsEvery: RESTS_EVERY },
);
const { place, events, tokens } = parts;
const { http } = place;

serveAccounts(place, tokens, {
  place: 'Porchway',
  accounts: [{ id: 'millrace', name: 'Millrace Flour & Baking School' }],
  scopes: {
    posts: 'make, change and end live posts on your profile, pages and circles',
    comments: 'read comments and answer them in your name',
  },
  widest: [],
});

const placements = (): readonly Placement[] => [
  { id: 'profile', kind: 'profile', name: 'Your profile', missing: null },
  { id: 'school', kind: 'page', name: 'Millrace Flour & Baking School', missing: null },
  {
    id: 'sourdough',
    kind: 'circle',
    name: 'Sourdough neighbours',
    missing: owned.circleAdmits
      ? null
      : {
          code: 'not_admitted',
          how: 'The circle has not let this application in. One of those who look after it does so under Circle, Applications.',
        },
  },
];

const graphemes = new Intl.Segmenter();
const settings = z
  .strictObject({
    visibility: z.enum(['everybody', 'acquaintances', 'only_me', 'members']),
    rewind: z.boolean(),
    comment_rules: z.enum(['everybody', 'followers', 'account_age']),
    comment_order: z.enum(['newest', 'oldest']),
    cross_posting: z.array(z.string().max(60)).max(5),
    targeting: z.string().max(200).nullable(),
    sponsored: z.boolean(),
    disclosure: z.string().max(120).nullable(),
    fundraising_link: z.url().nullable(),
    geo_allow: z.array(z.string().length(2)).max(60),
    geo_deny: z.array(z.string().length(2)).max(60),
    archive_visibility: z.enum(['everybody', 'acquaintances', 'only_me']),
    public_figures: z.array(z.string().max(80)).max(8),
    location: z.string().max(80).nullable(),
  })
  .partial();

const { told } = serveEvents({
  ...parts,
  scope: 'posts',
  words: { title: 'headline', description: 'body', startsAt: 'begins' },
  limits: () => limits,
  lengthOf: (text) => [...graphemes.segment(text)].length,
  judgeDescription: (text, given) => {
    const tags = [...text.matchAll(/(?<=^|\s)#[\p{L}\p{N}_]+/gu)].length;
    if (tags > HASHTAGS) return `at most ${HASHTAGS} hashtags`;
    return given['sponsored'] === true && !given['disclosure'] ? 'a sponsored post needs a disclosure' : null;
  },
  settings,
  placements,
  refuses: (_grant, placement, given) => {
    if (given['targeting'] && owned.followers < FOLLOWERS_FOR_TARGETING)
      return `Targeting needs ${FOLLOWERS_FOR_TARGETING} followers; this account has ${owned.followers}.`;
    const { visibility } = given;
    const allowed = { profile: PROFILE_VISIBILITIES, page: ['everybody'], circle: ['members'] }[
      placement.kind
    ]!;
    return visibility === undefined || allowed.includes(visibility as string)
      ? null
      : `A ${placement.kind} can be seen by ${allowed.join(', ')} only.`;
  },
  embeds: () => true,
  picture: { needed: true, aspect: [5, 2], minWidth: 1500, minHeight: 600, maxBytes: 8_000_000 },
  staleMs: 0,
});

// --- Comments, as server-sent events (HTML Living Standard, 9.2)

http.get('/v1/events/:id/comments', place.needs('comments'), (req, res) => {
  const event = events.find(String(req.params['id']));
  if (event?.kept.account !== grantOf(res).account) {
    res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
    return;
  }
  res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' });
  res.flushHeaders();
  const send = (message: Message) => res.write(`id: ${message.seq}\ndata: ${JSON.stringify(message)}\n\n`);
  const after = req.get('Last-Event-ID') ?? null;
  event.chat.after(after).forEach(send);
  const sendReactions = (reactions: Reactions) =>
    res.write(`event: reactions\ndata: ${JSON.stringify({ reactions })}\n\n`);
  sendReactions(event.chat.reactions);
  event.chat.on('message', send);
  event.chat.on('reactions', sendReactions);
  // So that nobody takes a quiet evening for a broken line.
  const breathing = setInterval(() => res.write(':\n\n'), 15_000);
  res.on('close', () => {
    clearInterval(breathing);
    event.chat.off('message', send);
    event.chat.off('reactions', sendReactions);
  });
});

http.post('/v1/events/:id/comments', place.needs('comments'), (req, res) => {
  const event = events.find(String(req.params['id']));
  const wish = z
    .strictObject({
      text: z
        .string()
        .min(1)
        .refine((text) => [...graphemes.segment(text)].length <= COMMENT, { error: `at most ${COMMENT}` }),
      reply_to: z.string().nullable(),
    })
    .safeParse(req.body);
  if (event?.kept.account !== grantOf(res).account)
    res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
  else if (!wish.success) refuseInvalid(res, wish.error);
  else {
    const by = { id: 'owner', name: 'Millrace Flour & Baking School', owner: true };
    res.status(201).json(event.chat.write(by, wish.data.text, wish.data.reply_to));
  }
});

http.put('/v1/events/:id/comments/:message', place.needs('comments'), (req, res) => {
  const event = events.find(String(req.params['id']));
  if (event?.kept.account === grantOf(res).account) answerHide(req, res, event.chat);
  else res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
});

const offered = {
  slow_s: z.number().int().min(0).max(600),
  followers_only: z.boolean(),
  account_days: z.number().int().min(0).max(30),
};
const onRules = (req: Request, res: Response) => {
  const event = events.find(String(req.params['id']));
  if (event?.kept.account === grantOf(res).account) answerRoomRules(req, res, event.chat, offered);
  else res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
};
http.get('/v1/events/:id/comment-rules', place.needs('comments'), onRules);
http.put('/v1/events/:id/comment-rules', place.needs('comments'), onRules);

serveEventPages(http, events, { place: 'Porchway', delayS: () => VIEWER_DELAY_S, embeds: () => true });

// --- The console

serveChatConsole(http, () => events.all().at(-1)?.chat ?? null);
place.serveRules(limits);
serveConsolePage(http, 'Porchway', {
  rules: limits,
  actions: [
    {
      label: 'The circle lets the application in',
      method: 'PUT',
      path: '/account',
      body: { circleAdmits: true },
    },
    { label: 'The circle puts it out', method: 'PUT', path: '/account', body: { circleAdmits: false } },
    { label: 'There are 400 followers', method: 'PUT', path: '/account', body: { followers: 400 } },
  ],
});
http.get('/console/events', (_req, res) => void res.json(events.all().map(told)));
http.put('/console/account', (req, res) => {
  const wish = z
    .strictObject({ circleAdmits: z.boolean(), followers: z.number().int().min(0) })
    .partial()
    .safeParse(req.body);
  if (wish.success) Object.assign(owned, wish.data);
  res.status(wish.success ? 200 : 400).json(owned);
});

await parts.listen();
