import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { TLSSocket } from 'node:tls';
import { Refusal } from '../http/errors';
import { CSRF_HEADER } from './cookies';
import { csrfTokenOf } from './tokens';

const REFUSED = 'This request did not come from a page of ours. Reload the page and try again.';

/**
 * Refuses what another site's page may have sent with our visitor's cookies. Three locks, any of which would
 * do: cookies are same-site, the browser says where a request comes from, and a session's requests carry a
 * token that only our own pages can read.
 *
 * @param house what the visitor addressed
 * @param sessionToken the session's token; null when there is no session to be misused
 */
export function refuseForeign(req: IncomingMessage, house: House, sessionToken: string | null): void {
  if (!isSameSite(req, house)) throw new Refusal('not_same_site', REFUSED);
  if (sessionToken === null) return;
  const given = Buffer.from(String(req.headers[CSRF_HEADER] ?? ''));
  const wanted = Buffer.from(csrfTokenOf(sessionToken));
  if (given.length !== wanted.length || !timingSafeEqual(given, wanted)) {
    throw new Refusal('not_same_site', REFUSED);
  }
}

/** The host a visitor addressed, with its port: a proxy in front tells it, if there is one to be trusted. */
export function hostOf(req: IncomingMessage, trustProxy: boolean): string | undefined {
  const forwarded = trustProxy ? req.headers['x-forwarded-host'] : undefined;
  return (Array.isArray(forwarded) ? forwarded[0] : forwarded) ?? req.headers.host;
}

/**
 * The origin a visitor addressed. A proxy that is to be trusted and says nothing of the scheme leaves it open: null.
 */
export function houseOf(req: IncomingMessage, trustProxy: boolean): House {
  const forwarded = trustProxy ? req.headers['x-forwarded-proto'] : undefined;
  const told = (Array.isArray(forwarded) ? forwarded.at(-1) : forwarded)?.split(',').at(-1)?.trim();
  const own = (req.socket as Partial<TLSSocket> | undefined)?.encrypted ? 'https' : 'http';
  return { host: hostOf(req, trustProxy), scheme: trustProxy ? (told ?? null) : own };
}

/** Whether a visitor's browser asked over HTTPS: of us, or of a proxy that is to be trusted. */
export const isEncrypted = (req: IncomingMessage, trustProxy: boolean): boolean =>
  houseOf(req, trustProxy).scheme === 'https';

export interface House {
  /** With its port; undefined: the request does not say. */
  readonly host: string | undefined;
  /** `http` or `https`; null: nobody says. */
  readonly scheme: string | null;
}

/** Whether the browser says that the request comes from our own origin. Programs say nothing, and may. */
export function isSameSite(req: IncomingMessage, { host, scheme }: House): boolean {
  const site = req.headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return false;
  const { origin } = req.headers;
  if (origin === undefined) return true;
  if (!URL.canParse(origin) || host === undefined) return false;
  const from = new URL(origin);
  const house = `${scheme ?? from.protocol.slice(0, -1)}://${host}`;
  return URL.canParse(house) && from.origin === new URL(house).origin;
}
