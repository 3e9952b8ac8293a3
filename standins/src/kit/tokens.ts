import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

/** What an account has let an application do, for as long as nobody takes it back. */
export interface Grant {
  readonly account: string;
  readonly scopes: readonly string[];
  /** The widest visibility that it may give; null: the place does not ask. */
  readonly widest: string | null;
  /** Hash of the refresh token. */
  readonly refresh: string;
}
export type GrantWish = Omit<Grant, 'refresh'>;

const newSecret = () => randomBytes(24).toString('base64url');
const hash = (text: string) => createHash('sha256').update(text).digest('hex');
/** A code is good once, and for this long (RFC 6749, 4.1.2). */
const CODE_LIFE_MS = 60_000;

interface Code {
  readonly wish: GrantWish;
  readonly redirectUri: string;
  readonly challenge: string;
  readonly expiresAtMs: number;
}

/** The tokens of a place's API: a lasting one that gives short ones (RFC 6749, 1.5). Only hashes are kept. */
export class Tokens {
  private grants: Grant[] = [];
  private readonly access = new Map<string, { grant: Grant; expiresAtMs: number }>();
  private readonly codes = new Map<string, Code>();

  /** @param file where grants are kept over restarts; null: they are not */
  constructor(
    private readonly lifeMs: number,
    private readonly file: string | null = null,
  ) {
    if (file && existsSync(file)) this.grants = JSON.parse(readFileSync(file, 'utf8')) as Grant[];
  }

  /** The lasting token of a new grant. `token` is given where a rehearsal wants to know it beforehand. */
  grant(wish: GrantWish, token = newSecret()): string {
    const refresh = hash(token);
    this.keep([...this.grants.filter((one) => one.refresh !== refresh), { ...wish, refresh }]);
    return token;
  }

  /** A code for an application that has to show the verifier of this challenge (RFC 7636). */
  code(wish: GrantWish, redirectUri: string, challenge: string, nowMs: number): string {
    const code = newSecret();
    this.codes.set(hash(code), { wish, redirectUri, challenge, expiresAtMs: nowMs + CODE_LIFE_MS });
    return code;
  }

  /** The lasting token for a code; null when it is not, or no longer, good. */
  exchange(code: string, redirectUri: string, verifier: string, nowMs: number): string | null {
    const found = this.codes.get(hash(code));
    this.codes.delete(hash(code));
    if (!found || found.expiresAtMs <= nowMs || found.redirectUri !== redirectUri) return null;
    const challenge = createHash('sha256').update(verifier).digest();
    const wanted = Buffer.from(found.challenge, 'base64url');
    if (wanted.length !== challenge.length || !timingSafeEqual(wanted, challenge)) return null;
    return this.grant(found.wish);
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

  /** The grant behind a short token; null when it is unknown, over or taken back. */
  grantOf(token: string, nowMs: number): Grant | null {
    const found = this.access.get(hash(token));
    if (!found || found.expiresAtMs <= nowMs || !this.grants.includes(found.grant)) return null;
    return found.grant;
  }

  /** The account owner takes everything back. */
  revokeAll(): void {
    this.keep([]);
  }

  expireAll(): void {
    this.access.clear();
  }

  private keep(grants: Grant[]): void {
    this.grants = grants;
    if (this.file) writeFileSync(this.file, JSON.stringify(grants), { mode: 0o600 });
  }
}
