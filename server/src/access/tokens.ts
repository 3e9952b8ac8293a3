import { createHash, randomBytes } from 'node:crypto';

/** 256 random bits in base64url: what a cookie, an invitation or a guest's link carries. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What is kept of a token. A plain hash will do: 256 random bits cannot be guessed from it. */
export const hashToken = (token: string): string => createHash('sha256').update(token).digest('base64url');

/**
 * The token against forged requests that belongs to a session. It follows from the session's own token, so
 * nothing has to be kept, and tells nothing about it.
 */
export const csrfTokenOf = (sessionToken: string): string => hashToken(`csrf ${sessionToken}`);
