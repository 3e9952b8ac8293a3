import * as z from 'zod';
import { PlaceRefused } from '../../ask-place';
import type { Connector } from '../connector';
import { keepFollowing, pause } from '../keep-following';
import { readMessage, WireMessage } from '../place-message';
import { ShortTokens } from '../short-tokens';
import { KITEFIELD_RULES } from './rules';

/**
 * Kitefield: events made by its API, each with a key of its own; received first, published then, and over when we say
 * so. Chat is polled with a cursor within a daily quota. The destination's secret is the account's lasting token.
 */
const Event = z.object({
  id: z.string(),
  page: z.string(),
  state: z.enum(['booked', 'receiving', 'public', 'gap', 'ended']),
  viewers: z.number().int(),
});
const Ingest = z.object({ address: z.string(), key: z.string() });
const Polled = z.object({
  messages: z.array(WireMessage),
  cursor: z.string(),
  poll_after_ms: z.number().min(0),
  quota: z.object({ left: z.number(), resets_in_ms: z.number() }),
});

/** With this delay viewers can still be talked to; the place would take more by itself. */
const LATENCY = 'short';
/** What is kept of the day's quota for writing. */
const KEPT_FOR_WRITING = 2000;

const tokens = new ShortTokens();

export const kitefield: Connector = {
  rules: KITEFIELD_RULES,
  arrival: 'held',
  async open(target, { title, eventRef }, ask) {
    const known = eventRef === null ? null : await findEvent();
    const event =
      known && known.state !== 'ended'
        ? Event.parse(await call(`/v1/events/${known.id}`, 'PATCH', { title }))
        : Event.parse(await call('/v1/events', 'POST', { title, starts_at: null, latency: LATENCY }));
    const { address, key } = Ingest.parse(await call(`/v1/events/${event.id}/ingest`));
    const pageUrl = new URL(event.page, target.address).href;
    return { ingest: { address, key }, eventRef: event.id, pageUrl };

    function call(path: string, method: 'GET' | 'POST' | 'PATCH' = 'GET', body?: object) {
      return tokens.call(target, ask, path, { method, body });
    }
    /** Null: it was deleted over there. */
    async function findEvent() {
      try {
        return Event.parse(await call(`/v1/events/${encodeURIComponent(eventRef!)}`));
      } catch (error) {
        if (error instanceof PlaceRefused && error.status === 404) return null;
        throw error;
      }
    }
  },
  async look(target, eventRef, ask) {
    const { state, viewers } = Event.parse(await tokens.call(target, ask, `/v1/events/${eventRef}`));
    return { public: state === 'public', viewers };
  },
  async publish(target, eventRef, ask) {
    await tokens.call(target, ask, `/v1/events/${eventRef}/publish`, { method: 'POST', body: {} });
  },
  async end(target, eventRef, ask) {
    await tokens.call(target, ask, `/v1/events/${eventRef}/end`, { method: 'POST', body: {} });
  },
  chat: {
    follow(target, eventRef, from, ask, listener, stopped) {
      let cursor = from;
      return keepFollowing(
        async (connected) => {
          for (;;) {
            const query = cursor === null ? '' : `?cursor=${encodeURIComponent(cursor)}`;
            const polled = Polled.parse(
              await tokens.call(target, ask, `/v1/events/${eventRef}/chat${query}`),
            );
            if (stopped.aborted) return;
            connected();
            if (polled.messages.length > 0) {
              await listener.messages(polled.messages.map(readMessage), polled.cursor);
            }
            cursor = polled.cursor;
            // The quota has to last until it is filled again.
            const polls = Math.max(1, polled.quota.left - KEPT_FOR_WRITING);
            const share = polled.quota.resets_in_ms / polls;
            await pause(Math.max(polled.poll_after_ms, Math.min(share, 60_000)), stopped);
            if (stopped.aborted) return;
          }
        },
        listener,
        stopped,
      );
    },
    async write(target, eventRef, text, replyTo, ask) {
      const body = { text, reply_to: replyTo };
      const path = `/v1/events/${eventRef}/chat`;
      return readMessage(WireMessage.parse(await tokens.call(target, ask, path, { method: 'POST', body })));
    },
  },
};
