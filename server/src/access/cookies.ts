import type { Request, Response } from 'express';
import { csrfTokenOf } from './tokens';
import { LONGEST_MS } from './sessions';

export const SESSION_COOKIE = 'juncta_session';
/** Read by the page and sent back in {@link CSRF_HEADER}: only a page of ours can read it. */
export const CSRF_COOKIE = 'juncta_csrf';
export const CSRF_HEADER = 'x-juncta-csrf';

/** The value of a cookie in a Cookie header; undefined when it is not there. */
export function cookieOf(header: string | undefined, name: string): string | undefined {
  const found = header?.split(';').find((pair) => pair.trimStart().startsWith(`${name}=`));
  return found?.trimStart().slice(name.length + 1);
}

export function setSessionCookies(req: Request, res: Response, token: string): void {
  const common = { sameSite: 'lax', path: '/', secure: req.secure, maxAge: LONGEST_MS } as const;
  res.cookie(SESSION_COOKIE, token, { ...common, httpOnly: true });
  res.cookie(CSRF_COOKIE, csrfTokenOf(token), common);
}

export function clearSessionCookies(req: Request, res: Response): void {
  const common = { sameSite: 'lax', path: '/', secure: req.secure } as const;
  res.clearCookie(SESSION_COOKIE, { ...common, httpOnly: true });
  res.clearCookie(CSRF_COOKIE, common);
}
