import * as z from 'zod';
import { understood } from '../../ask-place';
import type { Connector } from '../connector';
import { keepFollowing, pause } from '../keep-following';
import { placeChatControl } from '../place-chat-control';
import { placeAccounts, PlaceEvents } from '../place-events';
import { readMessage, readReactions, WireMessage } from '../place-message';
import { ShortTokens } from '../short-tokens';
import { KITEFIELD_RULES } from './rules';

/**
 * Kitefield: events made by its API, each with a key of its own; received first, published then, and over when we say
 * so. Chat is polled with a cursor within a daily quota.
 */
const Polled = z.object({
  messages: z.array(WireMessage),
  cursor: z.string(),
  poll_after_ms: z.number().min(0),
  quota: z.object({ left: z.number(), resets_in_ms: z.number() }),
});

/** What is kept of the day's quota for writing. */
const KEPT_FOR_WRITING = 2000;

const tokens = new ShortTokens();
const words = { title: 'title', description: 'description', startsAt: 'starts_at' };
const events = new PlaceEvents(tokens, words, true);

export const kitefield: Connector = {
  rules: KITEFIELD_RULES,
  arrival: 'held',
  booking: events.booking,
  accounts: placeAccounts(tokens, ['events', 'chat']),
  open: (target, draft, ask) => events.open(target, draft, ask),
  look: (target, eventRef, ask) => events.look(target, eventRef, ask),
  publish: (target, eventRef, ask) => events.publish(target, eventRef, ask),
  end: (target, eventRef, ask) => events.end(target, eventRef, ask),
  chat: {
    follow(target, eventRef, from, ask, listener, stopped) {
      let cursor = from;
      return keepFollowing(
        async (connected) => {
          for (;;) {
            const query = cursor === null ? '' : `?cursor=${encodeURIComponent(cursor)}`;
            const answer = await tokens.call(target, ask, `/v1/events/${eventRef}/chat${query}`);
            const polled = understood(Polled, answer);
            if (stopped.aborted) return;
            connected();
            const reactions = readReactions(answer);
            if (reactions) await listener.reacted(reactions);
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
      return readMessage(
        understood(WireMessage, await tokens.call(target, ask, path, { method: 'POST', body })),
      );
    },
    async hide(target, eventRef, messageId, hidden, ask) {
      const path = `/v1/events/${eventRef}/chat/${encodeURIComponent(messageId)}`;
      await tokens.call(target, ask, path, { method: 'PUT', body: { hidden } });
    },
    async ban(target, eventRef, authorId, banned, ask) {
      const path = `/v1/events/${eventRef}/chat/writers/${encodeURIComponent(authorId)}`;
      await tokens.call(target, ask, path, { method: 'PUT', body: { banned } });
    },
    control: placeChatControl(
      tokens,
      { slowSeconds: 300, accountDays: 0 },
      (eventRef) => `/v1/events/${eventRef}/chat-rules`,
    ),
  },
};
