import { backoff, retrying } from '@juncta/core/retry';
import { setTimeout as wait } from 'node:timers/promises';
import * as z from 'zod';
import { PlaceAway, PlaceRefused, type AskPlace, type Asking, understood } from '../ask-place';
import type {
  GivenAccount,
  ListingDraft,
  Opened,
  PlaceAccounts,
  PlaceBooking,
  PlacePlacement,
  Target,
  RemoteListing,
} from './connector';
import { Embed, embedUrl } from './embed-url';
import { pageDelayMs } from './page-delay';
import { Health } from './place-health';
import type { ShortTokens } from './short-tokens';

/** The names a place has for the parts of an event. */
export interface EventWords {
  readonly title: string;
  readonly description: string;
  readonly startsAt: string;
}

const Event = z.looseObject({
  id: z.string().max(200),
  page: z.string(),
  embed: Embed,
  health: Health,
  state: z.enum(['booked', 'receiving', 'public', 'gap', 'ended', 'lapsed']),
  placement: z.string().max(200).nullish(),
  viewers: z.number().int(),
  settings: z.record(z.string(), z.unknown()),
});
type Event = z.infer<typeof Event>;
const List = z.object({ events: z.array(Event) });
const Ingest = z.object({ address: z.string(), key: z.string(), backup: z.string().nullish() });
const Account = z.object({
  id: z.string().max(200),
  scopes: z.array(z.string()),
  widest: z.string().nullable(),
});
const Placements = z.object({
  placements: z.array(
    z.object({
      id: z.string().max(200),
      kind: z.string(),
      name: z.string().max(200),
      missing: z.object({ how: z.string() }).nullable(),
    }),
  ),
});

/** What a place does not answer is asked twice more; all of it may be repeated. One that hangs would only hang again. */
const ASKING = {
  policy: backoff({ firstMs: 200, longestMs: 800, attempts: 3, random: Math.random }),
  mayRetry: (error: unknown) => error instanceof PlaceAway && !error.hung,
  wait: (ms: number) => wait(ms),
};

export const again = <T>(act: () => Promise<T>): Promise<T> => retrying(act, ASKING);

/** The part of an API for events that several places happen to share, each in its own words. */
export class PlaceEvents {
  constructor(
    private readonly tokens: ShortTokens,
    private readonly words: EventWords,
    /** Whether its pages say when what they show came in. */
    private readonly pageSaysShowing = false,
  ) {}

  readonly booking: PlaceBooking = {
    book: async (target, draft, ask) => this.there(target, await this.make(target, draft, ask)),
    list: async (target, ask) => {
      const { events } = understood(List, await this.call(target, ask, '/v1/events'));
      return events
        .filter(({ placement, state }) => placement === target.placement && state === 'booked')
        .map((event) => this.there(target, event));
    },
    find: async (target, eventRef, ask) => {
      const event = await this.find(target, eventRef, ask);
      return event && this.there(target, event);
    },
    cancel: async (target, eventRef, ask) => {
      try {
        await this.call(target, ask, `/v1/events/${encodeURIComponent(eventRef)}`, { method: 'DELETE' });
      } catch (error) {
        // Gone already.
        if (!(error instanceof PlaceRefused) || error.status !== 404) throw error;
      }
    },
    givePicture: async (target, eventRef, jpeg, ask) => {
      const path = `/v1/events/${encodeURIComponent(eventRef)}/picture`;
      await this.call(target, ask, path, { method: 'PUT', file: { bytes: jpeg, type: 'image/jpeg' } });
    },
  };

  async open(target: Target, draft: ListingDraft, ask: AskPlace): Promise<Opened> {
    const event = await this.make(target, draft, ask);
    const { address, key, backup } = understood(
      Ingest,
      await this.call(target, ask, `/v1/events/${event.id}/ingest`),
    );
    return {
      ingest: { address, key, ...(backup && backup !== address ? { backup } : {}) },
      eventRef: event.id,
      ...addressesOf(target, event),
    };
  }

  async look(target: Target, eventRef: string | null, ask: AskPlace) {
    const event = understood(Event, await this.call(target, ask, `/v1/events/${eventRef}`));
    const isPublic = event.state === 'public';
    const delayMs = isPublic && this.pageSaysShowing ? await pageDelayMs(target, event.page, ask) : null;
    return { public: isPublic, viewers: event.viewers, delayMs, health: event.health ?? null };
  }

  async publish(target: Target, eventRef: string | null, ask: AskPlace): Promise<void> {
    await this.call(target, ask, `/v1/events/${eventRef}/publish`, { method: 'POST', body: {} });
  }

  async end(target: Target, eventRef: string | null, ask: AskPlace): Promise<void> {
    await this.call(target, ask, `/v1/events/${eventRef}/end`, { method: 'POST', body: {} });
  }

  private async make(target: Target, draft: ListingDraft, ask: AskPlace): Promise<Event> {
    const known = draft.eventRef === null ? null : await this.find(target, draft.eventRef, ask);
    const text = {
      [this.words.title]: draft.title,
      [this.words.description]: draft.description,
      settings: draft.settings,
    };
    const slot = draft.startsAtMs === null ? null : new Date(draft.startsAtMs).toISOString();
    if (known && known.state !== 'ended' && known.state !== 'lapsed') {
      // A slot that stands is not sent again: its window may have closed since.
      const had = known[this.words.startsAt];
      const moved = slot === null || (typeof had === 'string' && Date.parse(had) === draft.startsAtMs);
      const body = moved ? text : { ...text, [this.words.startsAt]: slot };
      return understood(
        Event,
        await this.call(target, ask, `/v1/events/${known.id}`, { method: 'PATCH', body }),
      );
    }
    const { placement, reference } = { ...draft, placement: target.placement };
    const body = { ...text, [this.words.startsAt]: slot, placement, reference };
    return understood(Event, await this.call(target, ask, '/v1/events', { method: 'POST', body }));
  }

  /** Null: it was deleted over there. */
  private async find(target: Target, eventRef: string, ask: AskPlace): Promise<Event | null> {
    try {
      return understood(Event, await this.call(target, ask, `/v1/events/${encodeURIComponent(eventRef)}`));
    } catch (error) {
      if (error instanceof PlaceRefused && error.status === 404) return null;
      throw error;
    }
  }

  private there(target: Target, event: Event): RemoteListing {
    const text = (word: string) => {
      const value = event[word];
      return typeof value === 'string' ? value : '';
    };
    const startsAt = event[this.words.startsAt];
    const states = { booked: 'booked', ended: 'closed', lapsed: 'lapsed' } as const;
    return {
      eventRef: event.id,
      ...addressesOf(target, event),
      state: event.state in states ? states[event.state as keyof typeof states] : 'open',
      title: text(this.words.title),
      description: text(this.words.description),
      startsAtMs: typeof startsAt === 'string' ? Date.parse(startsAt) : null,
      settings: event.settings,
    };
  }

  private call(target: Target, ask: AskPlace, path: string, asking: Asking = {}): Promise<unknown> {
    return again(async () => {
      try {
        return await this.tokens.call(target, ask, path, asking);
      } catch (error) {
        throw error instanceof PlaceRefused ? this.inOurWords(error) : error;
      }
    });
  }

  /** The field that a place does not take, by our name of it. */
  private inOurWords(refused: PlaceRefused): PlaceRefused {
    const { status, message, retryAfterS, wrong } = refused;
    const ours = Object.entries(this.words).find(([, theirs]) => theirs === wrong?.field)?.[0];
    if (!wrong || !ours) return refused;
    return new PlaceRefused(status, message, retryAfterS, { ...wrong, field: ours });
  }
}

const addressesOf = (target: Target, { page, embed }: Event) => ({
  pageUrl: new URL(page, target.address).href,
  embedUrl: embedUrl(target, embed),
});

/** Whose account it is, and where in it something can be: the same at every place that has accounts. */
export function placeAccounts(tokens: ShortTokens, scopes: readonly string[]): PlaceAccounts {
  return {
    scopes,
    account: async (target, ask): Promise<GivenAccount> =>
      understood(Account, await again(() => tokens.call(target, ask, '/v1/account'))),
    placements: async (target, ask): Promise<PlacePlacement[]> => {
      const read = understood(Placements, await again(() => tokens.call(target, ask, '/v1/placements')));
      return read.placements.map(({ missing, ...rest }) => ({ ...rest, missing: missing?.how ?? null }));
    },
  };
}
