import * as z from 'zod';
import { PlaceRefused, type AskPlace } from '../ask-place';
import type { Connector, Target } from './connector';

/**
 * Emberplay: an API with short tokens that a lasting one gives, one persistent key in four regions, public on
 * arrival. The destination's secret is the lasting token.
 */
const Token = z.object({ access_token: z.string(), expires_in: z.number() });
const Ingest = z.object({
  key: z.string(),
  regions: z.array(z.object({ region: z.string(), address: z.string() })).min(1),
});
const ChannelState = z.object({ live: z.object({ public: z.boolean() }).nullable() });

/** A short token is renewed so long before its end: it must not run out on the way. */
const RENEW_BEFORE_MS = 60_000;
const short = new Map<string, { token: string; secret: string; goodUntilMs: number }>();

export const emberplay: Connector = {
  arrival: 'public',
  async ingest(target, ask) {
    const { key, regions } = Ingest.parse(await callApi(target, ask, '/v1/channel/ingest'));
    return { address: regions[0]!.address, key };
  },
  async look(target, ask) {
    const { live } = ChannelState.parse(await callApi(target, ask, '/v1/channel'));
    return { public: live?.public ?? false };
  },
};

/** With a token that may turn out to be over: then once more with a fresh one. */
async function callApi(target: Target, ask: AskPlace, path: string): Promise<unknown> {
  for (let again = false; ; again = true) {
    const token = await tokenOf(target, ask, again);
    try {
      return await ask(`${target.address}${path}`, { headers: { Authorization: `Bearer ${token}` } });
    } catch (error) {
      if (again || !(error instanceof PlaceRefused) || error.status !== 401) throw error;
    }
  }
}

async function tokenOf(target: Target, ask: AskPlace, fresh: boolean): Promise<string> {
  const known = short.get(target.id);
  if (!fresh && known?.secret === target.secret && known.goodUntilMs > ask.nowMs()) return known.token;
  const body = { grant_type: 'refresh_token', refresh_token: target.secret };
  const given = Token.parse(await ask(`${target.address}/token`, { method: 'POST', body }));
  const goodUntilMs = ask.nowMs() + given.expires_in * 1000 - RENEW_BEFORE_MS;
  short.set(target.id, { token: given.access_token, secret: target.secret, goodUntilMs });
  return given.access_token;
}
