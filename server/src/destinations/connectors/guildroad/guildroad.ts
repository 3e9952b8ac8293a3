import * as z from 'zod';
import { PlaceRefused, understood } from '../../ask-place';
import type { Connector, PlaceMessage } from '../connector';
import { keepFollowing, pause } from '../keep-following';
import { placeAccounts, PlaceEvents } from '../place-events';
import { readMessage, WireMessage } from '../place-message';
import { ShortTokens } from '../short-tokens';
import { GUILDROAD_RULES } from './rules';

/** Guildroad: broadcasts on pages, in a preview until they are published; soon thrown away when nobody comes. */
const tokens = new ShortTokens();

const Page = z.object({ pages: z.number().int().min(1), messages: z.array(WireMessage) });
const POLL_MS = 3000;
const BEFORE_PUBLISHED_MS = 5000;

/** Before ours was the page alone, the last message stood behind it. */
const readCursor = (cursor: string | null): number => Math.max(1, Number((cursor ?? '').split(' ')[0]) || 1);
/** What changes when its writer changes it. */
const stateOf = ({ editedAtMs, deleted }: PlaceMessage) => `${editedAtMs} ${deleted}`;

const events = new PlaceEvents(tokens, { title: 'subject', description: 'about', startsAt: 'slot' });

export const guildroad: Connector = {
  rules: GUILDROAD_RULES,
  arrival: 'held',
  booking: events.booking,
  accounts: placeAccounts(tokens, ['broadcasts', 'discussion']),
  open: (target, draft, ask) => events.open(target, draft, ask),
  look: (target, eventRef, ask) => events.look(target, eventRef, ask),
  publish: (target, eventRef, ask) => events.publish(target, eventRef, ask),
  end: (target, eventRef, ask) => events.end(target, eventRef, ask),
  chat: {
    follow(target, eventRef, from, ask, listener, stopped) {
      // Pages have no cursor: ours is the page that is being filled. What changes on pages before goes unseen.
      let page = readCursor(from);
      let known = new Map<string, string>();
      return keepFollowing(
        async (connected) => {
          while (!stopped.aborted) {
            const path = `/v1/events/${eventRef}/discussion?page=${page}`;
            const read = await tokens.call(target, ask, path).then(
              (answer) => understood(Page, answer),
              (error: unknown) => {
                // There is none before it is published.
                if (error instanceof PlaceRefused && error.status === 409) return null;
                throw error;
              },
            );
            if (stopped.aborted) return;
            connected();
            if (read) {
              const there = read.messages.map(readMessage);
              const fresh = there.filter((message) => known.get(message.id) !== stateOf(message));
              const isFull = read.pages > page;
              const next = isFull ? page + 1 : page;
              if (fresh.length > 0) await listener.messages(fresh, String(next));
              known = new Map(isFull ? [] : there.map((message) => [message.id, stateOf(message)]));
              page = next;
              if (isFull) continue;
            }
            await pause(read ? POLL_MS : BEFORE_PUBLISHED_MS, stopped);
          }
        },
        listener,
        stopped,
      );
    },
    write: null,
  },
};
