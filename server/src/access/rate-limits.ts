import { RateLimiterMemory, RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type pg from 'pg';
import { Refusal } from '../http/errors';
import { getTableName } from 'drizzle-orm';
import { countedTry } from './schema';

const MINUTE_S = 60;

/**
 * Limits on wrong sign-ins. By account *and* address, so that nobody can lock the host out on the night of a
 * show from elsewhere; by address, against trying many names; by account from anywhere, against many addresses,
 * with room enough that a person never meets it.
 */
export const SIGN_IN_LIMITS = {
  accountFromAddress: { points: 8, duration: 15 * MINUTE_S },
  address: { points: 60, duration: 15 * MINUTE_S },
  account: { points: 300, duration: 24 * 60 * MINUTE_S },
} as const;

/** What any one address may ask of the public doors in a minute, signed in or not. */
export const PUBLIC_DOORS_PER_MINUTE = 240;
/**
 * What any one address may ask in all without a session, and what each session may. A desk's own traffic goes over
 * sockets and is far below.
 */
export const REQUESTS_PER_MINUTE = 1500;
/** Sessions that were found good and are counted for themselves; each is looked up at every request all the same. */
const PROVEN_KEPT = 5000;

export class RateLimits {
  private readonly limiters;
  private readonly publicDoors = new RateLimiterMemory({
    points: PUBLIC_DOORS_PER_MINUTE,
    duration: MINUTE_S,
  });
  private readonly requests = new RateLimiterMemory({ points: REQUESTS_PER_MINUTE, duration: MINUTE_S });

  constructor(pool: pg.Pool) {
    this.limiters = Object.entries(SIGN_IN_LIMITS).map(([kind, limit]) => ({
      kind: kind as keyof typeof SIGN_IN_LIMITS,
      limiter: new RateLimiterPostgres({
        storeClient: pool,
        storeType: 'pool',
        tableName: getTableName(countedTry),
        tableCreated: true,
        keyPrefix: kind,
        // While the database is away nobody can sign in anyway; what is tried meanwhile counts here.
        insuranceLimiter: new RateLimiterMemory({ ...limit, keyPrefix: kind }),
        ...limit,
      }),
    }));
  }

  /** Counts a try before the password is looked at, so that a thousand at once are not a thousand hashes. */
  async countSignIn(email: string, address: string): Promise<void> {
    const keys = { accountFromAddress: `${email} ${address}`, address, account: email };
    for (const { kind, limiter } of this.limiters) {
      await consume(limiter, keys[kind], 'That was tried too often.');
    }
  }

  /** A right password clears what was counted against this account from here. */
  async forgetSignIn(email: string, address: string): Promise<void> {
    const mine = this.limiters.find(({ kind }) => kind === 'accountFromAddress')!;
    await mine.limiter.delete(`${email} ${address}`);
  }

  /** @param sessionHash of the session that comes with it, good or not; null: none does */
  async countPublicDoor(address: string, sessionHash: string | null): Promise<void> {
    if (this.isProven(sessionHash)) return;
    await consume(this.publicDoors, address, 'Too many requests came from your address.');
  }

  /** @param sessionHash of the session that comes with it, good or not; null: none does */
  async countRequest(address: string, sessionHash: string | null = null): Promise<void> {
    if (this.isProven(sessionHash))
      await consume(this.requests, `session ${sessionHash}`, 'This browser asked for too much at once.');
    else await consume(this.requests, address, 'Too many requests came from your address.');
  }

  /** Whether this session was good when it was last looked up. */
  setProven(sessionHash: string, isGood: boolean): void {
    this.proven.delete(sessionHash);
    if (!isGood) return;
    this.proven.add(sessionHash);
    if (this.proven.size <= PROVEN_KEPT) return;
    const [oldest] = this.proven;
    this.proven.delete(oldest!);
  }
  /** The one that was seen last stands last. */
  private readonly proven = new Set<string>();

  private isProven(sessionHash: string | null): sessionHash is string {
    return sessionHash !== null && this.proven.has(sessionHash);
  }
}

async function consume(
  limiter: RateLimiterMemory | RateLimiterPostgres,
  key: string,
  what: string,
): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (refused) {
    if (!(refused instanceof RateLimiterRes)) throw refused;
    const retryAfterS = Math.max(1, Math.ceil(refused.msBeforeNext / 1000));
    throw new Refusal('too_many', `${what} Try again in ${inWords(retryAfterS)}.`, { retryAfterS });
  }
}

function inWords(seconds: number): string {
  if (seconds < 90) return `${seconds} seconds`;
  const minutes = Math.ceil(seconds / 60);
  return minutes < 90 ? `${minutes} minutes` : `${Math.ceil(minutes / 60)} hours`;
}
