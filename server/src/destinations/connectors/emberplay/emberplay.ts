import * as z from 'zod';
import { understood, type AskPlace } from '../../ask-place';
import type { Connector, Target } from '../connector';
import { keepFollowing } from '../keep-following';
import { parseJson, readMessage, WireMessage } from '../place-message';
import { placeAccounts } from '../place-events';
import { ShortTokens } from '../short-tokens';
import { EMBERPLAY_RULES } from './rules';

/**
 * Emberplay: an API with short tokens that a lasting one gives, one persistent key in four regions, public on arrival,
 * chat over WebSocket.  There are no events: a show is the channel,
 * under the title it has meanwhile.
 */
const Ingest = z.object({
  key: z.string(),
  regions: z.array(z.object({ region: z.string(), address: z.string() })).min(1),
});
const ChannelState = z.object({
  live: z.object({ public: z.boolean(), viewers: z.number().int() }).nullable(),
});
const Arrived = z.object({ type: z.literal('message'), message: WireMessage });

const tokens = new ShortTokens();

const ingestOf = async (target: Target, ask: AskPlace) =>
  understood(Ingest, await tokens.call(target, ask, '/v1/channel/ingest'));

export const emberplay: Connector = {
  rules: EMBERPLAY_RULES,
  arrival: 'public',
  booking: null,
  accounts: placeAccounts(tokens, [
    'channel:read',
    'channel:write',
    'ingest:read',
    'ingest:write',
    'chat:read',
    'chat:write',
  ]),
  async open(target, { title, settings: { category, ...settings } }, ask) {
    const body = { title, settings, ...(category == null ? {} : { category }) };
    await tokens.call(target, ask, '/v1/channel', { method: 'PATCH', body });
    const { key, regions } = await ingestOf(target, ask);
    const { address } = regions.find(({ region }) => region === target.region) ?? regions[0]!;
    return { ingest: { address, key }, eventRef: null, pageUrl: null };
  },
  regions: async (target, ask) => (await ingestOf(target, ask)).regions,
  async look(target, _eventRef, ask) {
    const { live } = understood(ChannelState, await tokens.call(target, ask, '/v1/channel'));
    return { public: live?.public ?? false, viewers: live?.viewers ?? null };
  },
  publish: null,
  end: null,
  chat: {
    follow: (target, _eventRef, from, ask, listener, stopped) => {
      let cursor = from;
      // One batch after the other, so that the cursor never runs ahead of what is kept.
      let keeping = Promise.resolve();
      return keepFollowing(
        (connected) =>
          tokens.withToken(target, ask, async (token) => {
            const url = new URL(`${target.address.replace(/^http/, 'ws')}/v1/chat`);
            if (cursor !== null) url.searchParams.set('after', cursor);
            await ask.socket(
              url.href,
              { Authorization: `Bearer ${token}` },
              connected,
              (text) => {
                const read = Arrived.safeParse(parseJson(text));
                if (!read.success) return;
                const { message } = read.data;
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
    async write(target, _eventRef, text, replyTo, ask) {
      const body = { text, reply_to: replyTo };
      const written = await tokens.call(target, ask, '/v1/chat', { method: 'POST', body });
      return readMessage(understood(WireMessage, written));
    },
    async hide(target, _eventRef, messageId, hidden, ask) {
      const path = `/v1/chat/${encodeURIComponent(messageId)}`;
      await tokens.call(target, ask, path, { method: 'PUT', body: { hidden } });
    },
  },
};
