import * as z from 'zod';
import { PlaceRefused, type AskPlace, type Asking, understood } from '../ask-place';
import type { Target } from './connector';

/** Short tokens that a lasting one gives (RFC 6749, 6), as several places have them. */
const Token = z.object({ access_token: z.string(), expires_in: z.number() });

/** A short token is renewed so long before its end: it must not run out on the way. */
const RENEW_BEFORE_MS = 60_000;

export class ShortTokens {
  private readonly known = new Map<string, { token: string; secret: string; goodUntilMs: number }>();

  /** Asks with a token that may turn out to be over: then once more with a fresh one. */
  async call(target: Target, ask: AskPlace, path: string, asking: Asking = {}): Promise<unknown> {
    return this.withToken(target, ask, (token) =>
      ask(`${target.address}${path}`, {
        ...asking,
        headers: { ...asking.headers, Authorization: `Bearer ${token}` },
      }),
    );
  }

  async withToken<T>(target: Target, ask: AskPlace, act: (token: string) => Promise<T>): Promise<T> {
    for (let again = false; ; again = true) {
      const token = await this.tokenOf(target, ask, again);
      try {
        return await act(token);
      } catch (error) {
        if (again || !(error instanceof PlaceRefused) || error.status !== 401) throw error;
      }
    }
  }

  private async tokenOf(target: Target, ask: AskPlace, fresh: boolean): Promise<string> {
    const known = this.known.get(target.id);
    if (!fresh && known?.secret === target.secret && known.goodUntilMs > ask.nowMs()) return known.token;
    const form = { grant_type: 'refresh_token', refresh_token: target.secret };
    const given = understood(Token, await ask(`${target.address}/token`, { method: 'POST', form }));
    const goodUntilMs = ask.nowMs() + given.expires_in * 1000 - RENEW_BEFORE_MS;
    this.known.set(target.id, { token: given.access_token, secret: target.secret, goodUntilMs });
    return given.access_token;
  }
}
