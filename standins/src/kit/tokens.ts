import { createHash, randomBytes } from 'node:crypto';

/** What an account has let an application do, for as long as nobody takes it back. */
export interface Grant {
  readonly scopes: readonly string[];
  /** Hash of the refresh token. */
  readonly refresh: string;
}

const newSecret = () => randomBytes(24).toString('base64url');
const hash = (text: string) => createHash('sha256').update(text).digest('hex');

/** The tokens of a place's API: a lasting one that gives short ones (RFC 6749, 1.5). Only hashes are kept. */
export class Tokens {
  private grants: Grant[] = [];
  private readonly access = new Map<string, { grant: Grant; expiresAtMs: number }>();

  constructor(private readonly lifeMs: number) {}

  /** The lasting token of a new grant. `token` is given where a rehearsal wants to know it beforehand. */
  grant(scopes: readonly string[], token = newSecret()): string {
    this.grants = [
      ...this.grants.filter(({ refresh }) => refresh !== hash(token)),
      { scopes, refresh: hash(token) },
    ];
    return token;
  }

  /** A short token; null when the lasting one is not (or no longer) good. */
  refresh(
    token: string,
    nowMs: number,
  ): { token: string; expiresInS: number; scopes: readonly string[] } | null {
    const grant = this.grants.find(({ refresh }) => refresh === hash(token));
    if (!grant) return null;
    const short = newSecret();
    this.access.set(hash(short), { grant, expiresAtMs: nowMs + this.lifeMs });
    return { token: short, expiresInS: Math.floor(this.lifeMs / 1000), scopes: grant.scopes };
  }

  /** What the bearer of a short token may do; null when it is unknown, over or taken back. */
  scopesOf(token: string, nowMs: number): readonly string[] | null {
    const found = this.access.get(hash(token));
    if (!found || found.expiresAtMs <= nowMs || !this.grants.includes(found.grant)) return null;
    return found.grant.scopes;
  }

  /** The account owner takes everything back. */
  revokeAll(): void {
    this.grants = [];
  }

  expireAll(): void {
    this.access.clear();
  }
}
