import type { Request, Response } from 'express';
import * as z from 'zod';
import { CHAT_HTML, serveChatConsole, serveChatPage } from '../kit/chat-page';
import { escapeHtml, page } from '../kit/pages';
import { Place, readPlaceEnvironment, refuseInvalid } from '../kit/place';
import { Tokens } from '../kit/tokens';
import { BOOKING, DELAYS_S, Events, TITLE_UNITS, type KiteEvent, type Latency } from './events';

/**
 * Kitefield, a made-up open video site: events made by its API, received first and published then. Its chat is polled
 * with a cursor, within a daily quota.
 *
 * Environment: PORT, RTMP_PORT, STANDIN_DIR, CLOCK_URL (for booking windows), and KITEFIELD_GRANT.
 */
const SCOPES = ['events', 'chat'] as const;
const TOKEN_LIFE_MS = 3_600_000;
const REPLY_CHARS = 240;
const DAY_MS = 24 * 3_600_000;
const QUOTA = { day: 60_000, poll: 1, write: 20 } as const;
const POLL_AFTER_MS = 600;
const MOST_PER_POLL = 200;

const { log, dir, port, rtmpPort } = readPlaceEnvironment('kitefield');
const events = new Events(dir, log);
const tokens = new Tokens(TOKEN_LIFE_MS);
if (process.env['KITEFIELD_GRANT']) tokens.grant(SCOPES, process.env['KITEFIELD_GRANT']);
const place = new Place(
  {
    name: 'kitefield',
    tokens,
    judge: (app, key, drop) => events.judge(app, key, drop),
    arrivals: () => events.arrivals,
  },
  log,
);
const { http } = place;
const needs = (scope: (typeof SCOPES)[number]) => place.needs(scope);

// --- Events

function described(event: KiteEvent) {
  const { kept, current } = event;
  return {
    id: kept.id,
    title: kept.title,
    starts_at: kept.starts_at,
    latency: kept.latency,
    state: event.state,
    page: `/watch/${kept.id}/`,
    viewers: event.state === 'public' ? event.crowd.viewers : 0,
    health: current?.arrival.health ?? null,
  };
}

function withEvent(act: (event: KiteEvent, req: Request, res: Response) => void) {
  return (req: Request, res: Response): void => {
    const event = events.find(String(req.params['id']));
    if (event) act(event, req, res);
    else res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
  };
}

const title = z.string().min(1).max(TITLE_UNITS, `at most ${TITLE_UNITS} UTF-16 units`);

/** The time by which windows are counted: a rehearsal may have moved it. */
async function now(): Promise<number> {
  const url = process.env['CLOCK_URL'];
  if (!url) return Date.now();
  const read = await fetch(new URL('/clock', url))
    .then((response) => response.json() as Promise<{ nowMs?: number }>)
    .catch(() => null);
  return read?.nowMs ?? Date.now();
}

http.post('/v1/events', needs('events'), async (req, res) => {
  const wish = z
    .strictObject({
      title,
      starts_at: z.iso.datetime().nullable(),
      latency: z.enum(Object.keys(DELAYS_S) as [Latency, ...Latency[]]).default('ordinary'),
      ends_with_feed: z.boolean().default(false),
    })
    .safeParse(req.body);
  if (!wish.success) {
    refuseInvalid(res, wish.error);
    return;
  }
  const { starts_at, latency, ends_with_feed } = wish.data;
  if (starts_at !== null) {
    const ahead = Date.parse(starts_at) - (await now());
    if (ahead < BOOKING.leastMs || ahead > BOOKING.mostMs) {
      const message = 'A slot lies 20 minutes to 9 days ahead.';
      res.status(422).json({ error: 'invalid', field: 'starts_at', message });
      return;
    }
  }
  res.status(201).json(described(events.make(wish.data.title, starts_at, latency, ends_with_feed)));
});

http.get(
  '/v1/events/:id',
  needs('events'),
  withEvent((event, _req, res) => void res.json(described(event))),
);

http.patch(
  '/v1/events/:id',
  needs('events'),
  withEvent((event, req, res) => {
    const wish = z.strictObject({ title }).safeParse(req.body);
    if (!wish.success) {
      refuseInvalid(res, wish.error);
      return;
    }
    events.rename(event, wish.data.title);
    res.json(described(event));
  }),
);

http.get(
  '/v1/events/:id/ingest',
  needs('events'),
  withEvent((event, _req, res) => {
    const address = `rtmp://127.0.0.1:${rtmpPort}/kite`;
    res.json({ address, backup: address, key: event.kept.key });
  }),
);

http.post(
  '/v1/events/:id/publish',
  needs('events'),
  withEvent((event, _req, res) => {
    if (event.kept.ended) res.status(409).json({ error: 'ended', message: 'This event has ended.' });
    else if (events.publish(event)) res.json(described(event));
    else res.status(409).json({ error: 'nothing_received', message: 'There is no picture to publish yet.' });
  }),
);

http.post(
  '/v1/events/:id/end',
  needs('events'),
  withEvent((event, _req, res) => {
    events.end(event);
    res.json(described(event));
  }),
);

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

http.get(
  '/v1/events/:id/chat',
  needs('chat'),
  withEvent((event, req, res) => {
    if (!spend(QUOTA.poll, res)) return;
    const cursor = typeof req.query['cursor'] === 'string' ? req.query['cursor'] : null;
    const messages = event.chat.after(cursor).slice(0, MOST_PER_POLL);
    res.json({
      messages,
      cursor: messages.at(-1)?.id ?? cursor ?? '0',
      poll_after_ms: POLL_AFTER_MS,
      quota: { left: quota.left, resets_in_ms: quota.resetsAtMs - Date.now() },
    });
  }),
);

http.post(
  '/v1/events/:id/chat',
  needs('chat'),
  withEvent((event, req, res) => {
    const wish = z
      .strictObject({
        text: z.string().min(1).max(REPLY_CHARS, `at most ${REPLY_CHARS} characters`),
        reply_to: z.string().nullable(),
      })
      .safeParse(req.body);
    if (!wish.success) {
      refuseInvalid(res, wish.error);
      return;
    }
    if (!spend(QUOTA.write, res)) return;
    const owner = { id: 'owner', name: 'Millrace Flour & Baking School', owner: true };
    res.status(201).json(event.chat.write(owner, wish.data.text, wish.data.reply_to));
  }),
);

// --- Public pages

http.get('/', (_req, res) => {
  const shown = events.all().filter(({ state }) => state === 'public');
  const list = shown
    .map(({ kept }) => `<li><a href="/watch/${kept.id}/">${escapeHtml(kept.title)}</a></li>`)
    .join('\n');
  const body = `<h1>On now</h1>\n${list ? `<ul>${list}</ul>` : '<p>Nothing is on just now.</p>'}`;
  res.type('html').send(page({ place: 'Kitefield', title: 'On now', body }));
});

/** Viewers see nothing of an event before it is published. */
const isPublic = (event: KiteEvent) => event.kept.published;

http.get(
  '/watch/:id/',
  withEvent((event, _req, res) => {
    const { kept, current } = event;
    const words = {
      booked: 'not on yet',
      receiving: 'not on yet',
      public: 'on now',
      gap: 'interrupted',
      ended: 'over',
    };
    const picture =
      isPublic(event) && current
        ? `<video controls playsinline data-src="/live/${current.arrival.id}/index.m3u8" aria-label="The event’s picture"></video>`
        : '<p>There is no picture just now.</p>';
    const body = `<h1>${escapeHtml(kept.title)}</h1>
<p>Millrace Flour &amp; Baking School · <strong>${words[event.state]}</strong></p>
${picture}
<p>Viewers here see everything about ${DELAYS_S[kept.latency]} s later.</p>
${CHAT_HTML}`;
    res.type('html').send(
      page({
        place: 'Kitefield',
        title: kept.title,
        body,
        scripts: ['/player/hls.js', '/player/player.js', '/player/chat.js'],
      }).replace('<body>', `<body data-live="${liveOf(event)}">`),
    );
  }),
);
http.get(
  '/watch/:id/state',
  withEvent((event, _req, res) => void res.json({ live: liveOf(event), title: event.kept.title })),
);
const liveOf = (event: KiteEvent) =>
  isPublic(event) && event.current ? event.current.arrival.id : event.state;
serveChatPage(http, '/watch', (id) => events.find(id)?.chat ?? null);

// --- The console

serveChatConsole(http, () => events.all().at(-1)?.chat ?? null);
http.get('/console/events', (_req, res) => void res.json(events.all().map(described)));
http.post('/console/quota', (req, res) => {
  quota.left = z.object({ left: z.number().int().min(0) }).parse(req.body).left;
  res.json(quota);
});

await place.listen(port, rtmpPort);
