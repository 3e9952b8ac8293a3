import * as z from 'zod';
import { understood, type AskPlace } from '../../ask-place';
import type { Connector, Target } from '../connector';
import { Batches } from '../batches';
import { keepFollowing } from '../keep-following';
import { Embed, embedUrl } from '../embed-url';
import { pageDelayMs } from '../page-delay';
import { Health } from '../place-health';
import { parseJson, readMessage, readReactions, WireMessage } from '../place-message';
import { placeChatControl } from '../place-chat-control';
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
  page: z.string(),
  live: z.object({ public: z.boolean(), viewers: z.number().int(), health: Health }).nullable(),
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
    const set = await tokens.call(target, ask, '/v1/channel', { method: 'PATCH', body });
    const embed = Embed.parse((set as { embed?: unknown } | null)?.embed);
    const { key, regions } = await ingestOf(target, ask);
    const { address } = regions.find(({ region }) => region === target.region) ?? regions[0]!;
    return { ingest: { address, key }, eventRef: null, pageUrl: null, embedUrl: embedUrl(target, embed) };
  },
  regions: async (target, ask) => (await ingestOf(target, ask)).regions,
  async look(target, _eventRef, ask) {
    const { live, page } = understood(ChannelState, await tokens.call(target, ask, '/v1/channel'));
    const isPublic = live?.public ?? false;
    const delayMs = isPublic ? await pageDelayMs(target, page, ask) : null;
    return { public: isPublic, viewers: live?.viewers ?? null, delayMs, health: live?.health ?? null };
  },
  publish: null,
  end: null,
  chat: {
    follow: (target, _eventRef, from, ask, listener, stopped) => {
      const batches = new Batches(listener, from);
      return keepFollowing(
        (connected) =>
          tokens.withToken(target, ask, async (token) => {
            const broken = batches.begin();
            const { cursor } = batches;
            const url = new URL(`${target.address.replace(/^http/, 'ws')}/v1/chat`);
            if (cursor !== null) url.searchParams.set('after', cursor);
            await ask.socket(
              url.href,
              { Authorization: `Bearer ${token}` },
              connected,
              (text) => {
                const wire = parseJson(text);
                const read = Arrived.safeParse(wire);
                if (read.success) batches.add(readMessage(read.data.message));
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
    async write(target, _eventRef, text, replyTo, ask) {
      const body = { text, reply_to: replyTo };
      const written = await tokens.call(target, ask, '/v1/chat', { method: 'POST', body });
      return readMessage(understood(WireMessage, written));
    },
    async hide(target, _eventRef, messageId, hidden, ask) {
      const path = `/v1/chat/${encodeURIComponent(messageId)}`;
      await tokens.call(target, ask, path, { method: 'PUT', body: { hidden } });
    },
    async ban(target, _eventRef, authorId, banned, ask) {
      const path = `/v1/chat/writers/${encodeURIComponent(authorId)}`;
      await tokens.call(target, ask, path, { method: 'PUT', body: { banned } });
    },
    control: placeChatControl(tokens, { slowSeconds: 120, accountDays: 0 }, () => '/v1/chat/rules'),
  },
};
