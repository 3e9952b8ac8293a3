import { understood } from '../../ask-place';
import type { Connector } from '../connector';
import { Batches } from '../batches';
import { keepFollowing } from '../keep-following';
import { placeChatControl } from '../place-chat-control';
import { placeAccounts, PlaceEvents } from '../place-events';
import { parseJson, readMessage, readReactions, WireMessage } from '../place-message';
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
  open: (target, draft, ask) => events.open(target, draft, ask),
  look: (target, eventRef, ask) => events.look(target, eventRef, ask),
  publish: null,
  end: (target, eventRef, ask) => events.end(target, eventRef, ask),
  chat: {
    follow: (target, eventRef, from, ask, listener, stopped) => {
      const batches = new Batches(listener, from);
      return keepFollowing(
        (connected) =>
          tokens.withToken(target, ask, async (token) => {
            const broken = batches.begin();
            const { cursor } = batches;
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
                const wire = parseJson(data);
                const read = WireMessage.safeParse(wire);
                if (read.success) batches.add(readMessage(read.data));
                const reactions = readReactions(wire);
                if (reactions) batches.react(reactions);
              },
              AbortSignal.any([stopped, broken]),
            );
            await batches.settle();
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
    control: placeChatControl(
      tokens,
      { slowSeconds: 600, accountDays: 30 },
      (eventRef) => `/v1/events/${eventRef}/comment-rules`,
    ),
  },
};
