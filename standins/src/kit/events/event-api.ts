import express, { type Request, type Response } from 'express';
import * as z from 'zod';
import type { Events } from './events';
import { type PlaceEvent } from './events';
import { judgePicture, readPicture, type PictureRule } from './picture';
import { refuseInvalid, type Place } from '../place';
import type { RehearsalTime } from '../rehearsal-time';
import type { Grant } from '../tokens';

/** Where in an account an event can be. */
export interface Placement {
  readonly id: string;
  readonly kind: string;
  readonly name: string;
  /** What is missing before anything can be there, and how to get it; null: nothing. */
  readonly missing: { readonly code: string; readonly how: string } | null;
}

/** The names that a place has for the parts of an event: none calls them as the others do. */
export interface EventWords {
  readonly title: string;
  readonly description: string;
  readonly startsAt: string;
}

export interface EventApi {
  readonly place: Place;
  readonly events: Events;
  readonly time: RehearsalTime;
  readonly rtmpPort: number;
  /** Of its second door; null: it has none. */
  backupPort(): number | null;
  readonly app: string;
  readonly scope: string;
  readonly words: EventWords;
  /** The longest title and description, asked at each request: a console may change them. */
  limits(): { title: number; description: number; leastMs: number; mostMs: number };
  /** The length of a text in this place's unit. */
  lengthOf(text: string): number;
  /** What is wrong with a description besides its length; null: nothing. */
  judgeDescription?(text: string, settings: Record<string, unknown>): string | null;
  readonly settings: z.ZodType<Record<string, unknown>>;
  placements(account: string): readonly Placement[];
  /** Why this grant may not have such an event there; null: it may. */
  refuses?(grant: Grant, placement: Placement, settings: Record<string, unknown>): string | null;
  /** Why an event cannot be shown to anybody yet; null: it can. */
  notReady?(event: PlaceEvent): string | null;
  /** Whether other sites may show an event's picture; missing: none may. */
  embeds?(event: PlaceEvent): boolean;
  readonly picture: PictureRule;
  /** What is read is as old as this. */
  readonly staleMs: number;
}

/** Serves the events of a place under `/v1/events`, each by its own rules. */
export function serveEvents(api: EventApi): { readonly told: (event: PlaceEvent) => object } {
  const { place, events, words } = api;
  const { http } = place;
  const needs = place.needs(api.scope);
  const past = new Snapshots(api.staleMs);

  http.get('/v1/account', needs, (_req, res) => {
    const { account, scopes, widest } = grantOf(res);
    res.json({ id: account, scopes, widest });
  });
  http.get('/v1/placements', needs, (_req, res) => {
    res.json({ placements: api.placements(grantOf(res).account) });
  });

  http.post('/v1/events', needs, async (req, res) => {
    await api.time.look();
    const wish = wishOf(api, req.body, 'whole');
    if (!wish.success) {
      refuseInvalid(res, wish.error);
      return;
    }
    const { placement: placementId, reference, ...text } = wish.data;
    const grant = grantOf(res);
    const placement = api.placements(grant.account).find(({ id }) => id === placementId);
    if (!placement)
      return void res
        .status(404)
        .json({ error: 'not_found', message: 'There is no such placement of yours.' });
    // Asked for once more: the answer was lost on its way.
    const same = events
      .all()
      .find(({ kept }) => reference !== null && kept.reference === reference && !kept.ended && !kept.lapsed);
    if (same) return void res.json(told(same));
    const refusal = placement.missing?.how ?? api.refuses?.(grant, placement, text.settings) ?? null;
    if (refusal !== null) return void res.status(403).json({ error: 'refused', message: refusal });
    const where = { account: grant.account, placement: placement.id, reference };
    res.status(201).json(told(events.make(text, where)));
  });

  http.get('/v1/events', needs, (_req, res) => {
    events.tick();
    const { account } = grantOf(res);
    const theirs = events.all().filter(({ kept }) => kept.account === account && !kept.ended);
    res.json({ events: theirs.map((event) => past.of(event.kept.id, told(event))) });
  });

  const withEvent = (act: (event: PlaceEvent, req: Request, res: Response) => void | Promise<void>) => [
    needs,
    async (req: Request, res: Response): Promise<void> => {
      await api.time.look();
      events.tick();
      const event = events.find(String(req.params['id']));
      if (event?.kept.account === grantOf(res).account) await act(event, req, res);
      else res.status(404).json({ error: 'not_found', message: 'There is no such event of yours.' });
    },
  ];
  http.get(
    '/v1/events/:id',
    ...withEvent((event, _req, res) => void res.json(past.of(event.kept.id, told(event)))),
  );
  http.patch(
    '/v1/events/:id',
    ...withEvent((event, req, res) => {
      const wish = wishOf(api, req.body, 'part');
      if (!wish.success) return refuseInvalid(res, wish.error);
      if (event.kept.ended || event.kept.lapsed)
        return void res.status(409).json({ error: 'over', message: 'This event is over.' });
      const { title, description, startsAt, settings } = wish.data;
      past.keep(event.kept.id, told(event));
      const given = Object.entries({ title, description, startsAt, settings });
      // What was not named stays as it is.
      events.change(event, Object.fromEntries(given.filter(([, value]) => value !== undefined)));
      res.json(told(event));
    }),
  );
  http.delete(
    '/v1/events/:id',
    ...withEvent((event, _req, res) => {
      if (event.kept.published)
        return void res.status(409).json({ error: 'public', message: 'It is public. It can only be ended.' });
      events.remove(event);
      res.json({});
    }),
  );
  http.get(
    '/v1/events/:id/ingest',
    ...withEvent((event, _req, res) => {
      const address = `rtmp://127.0.0.1:${api.rtmpPort}/${api.app}`;
      const second = api.backupPort();
      const backup = second === null ? null : `rtmp://127.0.0.1:${second}/${api.app}`;
      res.json({ address, backup, key: event.kept.key });
    }),
  );
  const raw = express.raw({ type: 'image/*', limit: '8mb' });
  http.put(
    '/v1/events/:id/picture',
    raw,
    ...withEvent((event, req, res) => {
      const file = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
      const picture = readPicture(file);
      const wrong = judgePicture(picture, api.picture);
      if (!picture || wrong !== null)
        return void res.status(422).json({ error: 'invalid', field: 'picture', message: wrong });
      events.givePicture(event, picture, file);
      res.json(told(event));
    }),
  );
  http.post(
    '/v1/events/:id/publish',
    ...withEvent((event, _req, res) => {
      const notReady = api.notReady?.(event) ?? null;
      if (event.kept.ended) res.status(409).json({ error: 'ended', message: 'This event has ended.' });
      else if (notReady !== null) res.status(409).json({ error: 'not_ready', message: notReady });
      else if (events.publish(event)) res.json(told(event));
      else
        res.status(409).json({ error: 'nothing_received', message: 'There is no picture to publish yet.' });
    }),
  );
  http.post(
    '/v1/events/:id/end',
    ...withEvent((event, _req, res) => {
      events.end(event);
      res.json(told(event));
    }),
  );
  return { told };

  function told(event: PlaceEvent): object {
    const { kept, current, state } = event;
    return {
      id: kept.id,
      placement: kept.placement,
      reference: kept.reference,
      [words.title]: kept.title,
      [words.description]: kept.description,
      [words.startsAt]: kept.startsAt,
      settings: kept.settings,
      picture: kept.picture,
      // Without a picture nobody is told beforehand, where one is needed.
      announced: kept.startsAt !== null && (kept.picture !== null || !api.picture.needed),
      state,
      page: `/watch/${kept.id}/`,
      embed: api.embeds?.(event) ? `/embed/${kept.id}/` : null,
      viewers: state === 'public' ? event.crowd.viewers : 0,
      health: current?.arrival.health ?? null,
    };
  }
}

export const grantOf = (res: Response) => res.locals['grant'] as Grant;

/** What somebody wants of an event, in the place's words and by its rules. */
function wishOf(api: EventApi, body: unknown, extent: 'whole' | 'part') {
  const { words } = api;
  const limits = api.limits();
  const text = (most: number) =>
    z.string().refine((value) => api.lengthOf(value) <= most, { error: `at most ${most}` });
  const slot = z.iso
    .datetime()
    .nullable()
    .refine((at) => at === null || inWindow(Date.parse(at)), { error: 'outside the time for booking' });
  const inWindow = (atMs: number) => {
    const ahead = atMs - api.time.nowMs();
    return ahead >= limits.leastMs && ahead <= limits.mostMs;
  };
  const whole = {
    [words.title]: text(limits.title).refine((value) => value !== '', { error: 'is missing' }),
    [words.description]: text(limits.description).default(''),
    [words.startsAt]: slot,
    settings: api.settings,
    placement: z.string(),
    reference: z.string().max(200).nullable().default(null),
  };
  const schema = extent === 'whole' ? z.strictObject(whole) : z.strictObject(partOf(whole));
  return schema
    .check((context) => {
      const value = context.value as Record<string, unknown>;
      const settings = (value['settings'] ?? {}) as Record<string, unknown>;
      const description = value[words.description];
      const wrong = typeof description === 'string' ? api.judgeDescription?.(description, settings) : null;
      if (wrong)
        context.issues.push({
          code: 'custom',
          path: [words.description],
          message: wrong,
          input: description,
        });
    })
    .transform((read) => {
      const value = read as Record<string, unknown>;
      const { [words.title]: title, [words.description]: description, [words.startsAt]: startsAt } = value;
      const given = { title, description, startsAt, settings: value['settings'] };
      const kept = Object.entries(given).filter(([, one]) => one !== undefined);
      return {
        ...(Object.fromEntries(kept) as { title: string; description: string; startsAt: string | null }),
        settings: (value['settings'] ?? {}) as Record<string, unknown>,
        placement: value['placement'] as string,
        reference: (value['reference'] ?? null) as string | null,
      };
    })
    .safeParse(body);
}

const partOf = (shape: Record<string, z.ZodType>) =>
  Object.fromEntries(
    Object.entries(shape).map(([name, type]) => {
      const bare = type instanceof z.ZodDefault ? (type.unwrap() as z.ZodType) : type;
      return [name, bare.optional()];
    }),
  );

/** What was told of events before they were changed, for as long as a place goes on telling that. */
class Snapshots {
  private readonly kept = new Map<string, { atMs: number; was: object }>();

  constructor(private readonly staleMs: number) {}

  keep(id: string, was: object): void {
    const known = this.kept.get(id);
    if (this.staleMs > 0 && !(known && Date.now() - known.atMs < this.staleMs))
      this.kept.set(id, { atMs: Date.now(), was });
  }

  of(id: string, now: object): object {
    const known = this.kept.get(id);
    return known && Date.now() - known.atMs < this.staleMs ? known.was : now;
  }
}
