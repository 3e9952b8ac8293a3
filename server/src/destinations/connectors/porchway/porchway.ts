import { understood } from '../../ask-place';
import type { Connector } from '../connector';
import { keepFollowing } from '../keep-following';
import { placeAccounts, PlaceEvents } from '../place-events';
import { parseJson, readMessage, WireMessage } from '../place-message';
import { ShortTokens } from '../short-tokens';
import { PORCHWAY_RULES } from './rules';

/** Porchway: live posts on profile, pages and circles; public with the picture once the slot has come. */
const tokens = new ShortTokens();
const events = new PlaceEvents(tokens, { title: 'headline', description: 'body', startsAt: 'begins' });

export const porchway: Connector = {
  rules: PORCHWAY_RULES,
  arrival: 'public',
  booking: events.booking,
  accounts: placeAccounts(tokens, ['posts', 'comments']),
  open: (target, wish, ask) => events.open(target, wish, ask),
  look: (target, eventRef, ask) => events.look(target, eventRef, ask),
  publish: null,
  end: (target, eventRef, ask) => events.end(target, eventRef, ask),
  chat: {
    follow: (target, eventRef, from, ask, listener, stopped) => {
      let cursor = from;
      // One after the other, so that the cursor never runs ahead of what is kept.
      let keeping = Promise.resolve();
      return keepFollowing(
        (connected) =>
          tokens.withToken(target, ask, async (token) => {
            const headers = {
              Authorization: `Bearer ${token}`,
              ...(cursor === null ? {} : { 'Last-Event-ID': cursor }),
            };
            const url = `${target.address}/v1/events/${eventRef}/comments`;
            await ask.events(
              url,
              headers,
              connected,
              (data) => {
                const read = WireMessage.safeParse(parseJson(data));
                if (!read.success) return;
                const message = read.data;
                keeping = keeping.then(async () => {
                  await listener.messages([readMessage(message)], message.id);
                  cursor = message.id;
                });
                keeping.catch(() => undefined);
              },
              stopped,
            );
            // What could not be kept is asked for once more.
            await keeping.catch(() => undefined);
            keeping = Promise.resolve();
          }),
        listener,
        stopped,
      );
    },
    async write(target, eventRef, text, replyTo, ask) {
      const path = `/v1/events/${eventRef}/comments`;
      const body = { text, reply_to: replyTo };
      const written = await tokens.call(target, ask, path, { method: 'POST', body });
      return readMessage(understood(WireMessage, written));
    },
    async hide(target, eventRef, messageId, hidden, ask) {
      const path = `/v1/events/${eventRef}/comments/${encodeURIComponent(messageId)}`;
      await tokens.call(target, ask, path, { method: 'PUT', body: { hidden } });
    },
  },
};
