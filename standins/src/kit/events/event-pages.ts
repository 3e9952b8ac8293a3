import type { Express, Request, Response } from 'express';
import { CHAT_HTML, serveChatPage } from '../chat/chat-page';
import type { Events, PlaceEvent } from './events';
import { embedPage, escapeHtml, page } from '../pages';

const WORDS: Record<PlaceEvent['state'], string> = {
  booked: 'not on yet',
  receiving: 'not on yet',
  public: 'on now',
  gap: 'interrupted',
  ended: 'over',
  lapsed: 'taken down: nobody came',
};

/** When what viewers see now came in; null: they see nothing of it yet. */
export function showingOf(startedAtMs: number, delayS: number): string | null {
  const cameMs = Date.now() - delayS * 1000;
  return cameMs < startedAtMs ? null : new Date(cameMs).toISOString();
}

/** The public pages of a place that has events: what is on, and each event with its picture and chat. */
export function serveEventPages(
  http: Express,
  events: Events,
  {
    place,
    delayS,
    saysShowing = false,
    embeds = () => false,
  }: {
    place: string;
    delayS: (event: PlaceEvent) => number;
    /** Its pages say when what they show just now came in. */
    saysShowing?: boolean;
    /** Whether other sites may show an event's picture. */
    embeds?: (event: PlaceEvent) => boolean;
  },
): void {
  const liveOf = (event: PlaceEvent) =>
    event.kept.published && event.current ? event.current.arrival.id : event.state;
  http.get('/', (_req, res) => {
    const shown = events.all().filter(({ state }) => state === 'public');
    const list = shown
      .map(({ kept }) => `<li><a href="/watch/${kept.id}/">${escapeHtml(kept.title)}</a></li>`)
      .join('\n');
    const body = `<h1>On now</h1>\n${list ? `<ul>${list}</ul>` : '<p>Nothing is on just now.</p>'}`;
    res.type('html').send(page({ place, title: 'On now', body }));
  });
  const withEvent = (act: (event: PlaceEvent, res: Response) => void) => (req: Request, res: Response) => {
    events.tick();
    const event = events.find(String(req.params['id']));
    if (event) act(event, res);
    else res.status(404).json({ error: 'not_found', message: 'There is no such event.' });
  };
  http.get(
    '/watch/:id/',
    withEvent((event, res) => {
      const { kept, current } = event;
      const picture =
        kept.published && current
          ? `<video controls playsinline data-src="/live/${current.arrival.id}/index.m3u8" aria-label="The event’s picture"></video>`
          : '<p>There is no picture just now.</p>';
      const poster = kept.picture ? '<img src="picture" alt="" style="max-width: 100%">' : '';
      const body = `<h1>${escapeHtml(kept.title)}</h1>
${poster}
<p>Millrace Flour &amp; Baking School · <strong>${WORDS[event.state]}</strong></p>
${picture}
<p>${escapeHtml(kept.description).replaceAll('\n', '<br>')}</p>
<p>Viewers here see everything about ${delayS(event)} s later.</p>
${CHAT_HTML}`;
      const scripts = ['/player/hls.js', '/player/player.js', '/player/chat.js'];
      const html = page({ place, title: kept.title, body, scripts });
      res.type('html').send(html.replace('<body>', `<body data-live="${liveOf(event)}">`));
    }),
  );
  http.get(
    '/embed/:id/',
    withEvent((event, res) => {
      if (!embeds(event)) {
        res.status(403).json({ error: 'not_allowed', message: 'Other sites may not show this event.' });
        return;
      }
      const { kept, current } = event;
      const src = kept.published && current ? `/live/${current.arrival.id}/index.m3u8` : null;
      res.type('html').send(embedPage({ place, title: kept.title, src, live: liveOf(event) }));
    }),
  );
  http.get(
    '/embed/:id/state',
    withEvent((event, res) => void res.json({ live: liveOf(event), title: event.kept.title })),
  );
  http.get(
    '/watch/:id/picture',
    withEvent((event, res) => {
      const { picture } = event.kept;
      if (picture) res.type(picture.type).sendFile(events.pictureFile(event));
      else res.status(404).end();
    }),
  );
  http.get(
    '/watch/:id/state',
    withEvent((event, res) => {
      const { current } = event;
      const showing =
        event.state === 'public' && current ? showingOf(current.arrival.startedAtMs, delayS(event)) : null;
      res.json({
        live: liveOf(event),
        title: event.kept.title,
        ...(saysShowing ? { showing } : {}),
      });
    }),
  );
  serveChatPage(http, '/watch', (id) => events.find(id)?.chat ?? null);
}
