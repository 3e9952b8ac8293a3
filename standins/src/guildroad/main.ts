import * as z from 'zod';
import { serveAccounts } from '../kit/accounts';
import { serveChatConsole } from '../kit/chat/chat-page';
import { serveConsolePage } from '../kit/console-page';
import { grantOf, serveEvents } from '../kit/events/event-api';
import { serveEventPages } from '../kit/events/event-pages';
import { openEventPlace } from '../kit/events/event-place';

/**
 * Guildroad, a made-up professional network: a preview first, published then; events nobody comes to are thrown away
 * soon; what is read may be ten seconds old. The widest visibility is settled when the application is let in.
 *
 * Environment: PORT, RTMP_PORT, STANDIN_DIR, CLOCK_URL, REDIRECT_ORIGINS, and GUILDROAD_GRANT.
 */
const TOKEN_LIFE_MS = 3_600_000;
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const VIEWER_DELAY_S = 17;
const PER_PAGE = 50;
const STALE_MS = 10_000;

const limits = { title: 72, description: 2200, leastMs: 0, mostMs: 45 * DAY_MS };

const parts = openEventPlace(
  'guildroad',
  {
    app: 'guild',
    encoder: { maxHeight: 1080, maxFramesPerS: 30, maxKbps: 4200, keyframeS: 2 },
    goesPublic: 'by_api',
    lapseMs: 13 * 60_000,
    patienceMs: 3 * 60_000,
    afterPatience: 'gap',
    cleanEnd: 'waits',
    secondSender: 'refused',
    longestMs: 3.5 * HOUR_MS,
    crowd: { seed: 11, most: 38 },
    delayS: () => VIEWER_DELAY_S,
  },
  { tokenLifeMs: TOKEN_LIFE_MS },
);
const { place, events, tokens } = parts;
const { http } = place;

serveAccounts(place, tokens, {
  place: 'Guildroad',
  accounts: [{ id: 'millrace', name: 'Millrace Flour & Baking School' }],
  scopes: {
    broadcasts: 'make, change, publish and end broadcasts on your pages',
    discussion: 'read what is written under them',
  },
  widest: ['everybody', 'connections'],
});

const graphemes = new Intl.Segmenter();
const { told } = serveEvents({
  ...parts,
  scope: 'broadcasts',
  words: { title: 'subject', description: 'about', startsAt: 'slot' },
  limits: () => limits,
  lengthOf: (text) => [...graphemes.segment(text)].length,
  settings: z
    .strictObject({
      visibility: z.enum(['everybody', 'connections']),
      chat_replay: z.boolean(),
      archive_visibility: z.enum(['everybody', 'connections', 'nobody']),
      language: z.string().max(35).nullable(),
      topics: z.array(z.string().max(30)).max(3),
      speakers: z.array(z.string().max(80)).max(10),
      organiser: z.string().max(80).nullable(),
      co_hosts: z.array(z.string().max(80)).max(4),
      captions: z.enum(['off', 'automatic']),
    })
    .partial(),
  placements: () => [
    { id: 'page', kind: 'page', name: 'Millrace Flour & Baking School', missing: null },
    { id: 'showcase', kind: 'showcase', name: 'Millrace for trade bakers', missing: null },
  ],
  refuses: ({ widest }, _placement, { visibility = 'everybody' }) =>
    widest === 'connections' && visibility === 'everybody'
      ? 'You let this application in for your connections only. Let it in anew to go wider.'
      : null,
  picture: { needed: false, aspect: [16, 9], minWidth: 1, minHeight: 1, maxBytes: 1_000_000 },
  staleMs: STALE_MS,
});

// --- The discussion: pages of it, without a cursor, and only once it is published

http.get('/v1/events/:id/discussion', place.needs('discussion'), (req, res) => {
  const event = events.find(String(req.params['id']));
  if (event?.kept.account !== grantOf(res).account) {
    res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
  } else if (!event.kept.published) {
    res
      .status(409)
      .json({ error: 'not_published', message: 'There is no discussion before it is published.' });
  } else {
    const page = Math.max(1, Number(req.query['page']) || 1);
    const all = event.chat.all();
    const messages = all.slice((page - 1) * PER_PAGE, page * PER_PAGE);
    res.json({ page, pages: Math.max(1, Math.ceil(all.length / PER_PAGE)), messages });
  }
});

serveEventPages(http, events, { place: 'Guildroad', delayS: () => VIEWER_DELAY_S });

// --- The console

serveChatConsole(http, () => events.all().at(-1)?.chat ?? null);
place.serveRules(limits);
serveConsolePage(http, 'Guildroad', { rules: limits });
http.get('/console/events', (_req, res) => void res.json(events.all().map(told)));

await parts.listen();
