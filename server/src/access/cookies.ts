import type { Response } from 'express';
import { csrfTokenOf } from './tokens';
import { LONGEST_MS } from './sessions';

/**
 * The cookie of a session. Over HTTPS its name carries the prefix by which browsers take it from this very host only,
 * for all paths and over HTTPS: no neighbouring host and no answer in the clear can plant one (RFC 6265bis, 4.1.3.2).
 */
export const sessionCookie = (encrypted: boolean): string =>
  encrypted ? '__Host-juncta_session' : 'juncta_session';
/** Read by the page and sent back in {@link CSRF_HEADER}: only a page of ours can read it. */
export const CSRF_COOKIE = 'juncta_csrf';
export const CSRF_HEADER = 'x-juncta-csrf';

/** The value of a cookie in a Cookie header; undefined when it is not there. */
export function cookieOf(header: string | undefined, name: string): string | undefined {
  const found = header?.split(';').find((pair) => pair.trimStart().startsWith(`${name}=`));
  return found?.trimStart().slice(name.length + 1);
}

export function setSessionCookies(res: Response, token: string, encrypted: boolean): void {
  const common = { ...attributes(encrypted), maxAge: LONGEST_MS };
  res.cookie(sessionCookie(encrypted), token, { ...common, httpOnly: true });
  res.cookie(CSRF_COOKIE, csrfTokenOf(token), common);
}

export function clearSessionCookies(res: Response, encrypted: boolean): void {
  res.clearCookie(sessionCookie(encrypted), { ...attributes(encrypted), httpOnly: true });
  res.clearCookie(CSRF_COOKIE, attributes(encrypted));
}

const attributes = (encrypted: boolean) => ({ sameSite: 'lax', path: '/', secure: encrypted }) as const;
