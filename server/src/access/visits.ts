import type { IncomingMessage } from 'node:http';
import { Refusal } from '../http/errors';
import type { App } from '../app';
import { cookieOf, sessionCookie } from './cookies';
import { isEncrypted } from './same-site';
import { findVisitor, goodTokens, type Visitor } from './sessions';
import { hashToken } from './tokens';

/**
 * Counts a request and finds whom it comes from. A session that was found good lately is counted for itself; everything
 * else by its address. So whoever floods an address shuts out themselves, and nobody behind it who is signed in.
 *
 * @returns null: there is no session, or it has ended
 */
export async function visit(
  app: Pick<App, 'config' | 'db' | 'rateLimits' | 'securityClock'>,
  req: IncomingMessage,
  address: string,
): Promise<Visitor | null> {
  const name = sessionCookie(isEncrypted(req, app.config.trustProxy));
  const token = cookieOf(req.headers.cookie, name);
  const hash = token === undefined ? null : hashToken(token);
  await app.rateLimits.countRequest(address, hash);
  const visitor = token ? await findVisitor(app.db, app.securityClock, token) : null;
  if (hash !== null) app.rateLimits.setProven(hash, visitor !== null);
  return visitor;
}

/** The network address of whoever opened a socket; behind a proxy that is to be trusted, as that says it. */
export function addressOf(req: IncomingMessage, trustProxy: boolean): string {
  const forwarded = trustProxy ? req.headers['x-forwarded-for'] : undefined;
  // The last one is the proxy's own word; those before it came with the request.
  const last = (Array.isArray(forwarded) ? forwarded.at(-1) : forwarded)?.split(',').at(-1)?.trim();
  return last === undefined || last === '' ? (req.socket.remoteAddress ?? 'unknown') : last;
}

/** A socket that belongs to a session. */
interface SessionSocket {
  readonly data: { readonly token: string };
  emit(event: 'signed_out'): unknown;
  disconnect(close: true): unknown;
}

/** Lets go of the sockets whose session has ended, and tells them why. */
export async function dropEndedSockets(
  { db, securityClock }: Pick<App, 'db' | 'securityClock'>,
  sockets: readonly SessionSocket[],
): Promise<void> {
  const tokens = sockets.map(({ data }) => data.token);
  // The database is away: nobody is thrown out for that.
  const good = await goodTokens(db, securityClock, tokens).catch(() => null);
  for (const socket of sockets) {
    if (good === null || good.has(socket.data.token)) continue;
    socket.emit('signed_out');
    socket.disconnect(true);
  }
}

/** Why a socket was not admitted, as its client is told. */
export const socketRefusal = (error: unknown): 'too_many' | 'database_away' =>
  error instanceof Refusal && error.code === 'too_many' ? 'too_many' : 'database_away';
