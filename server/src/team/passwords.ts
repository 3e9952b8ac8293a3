import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

/** OWASP's password storage cheat sheet: N = 2^15, r = 8, p = 3 among its equivalents. 32 MiB, about 0.2 s. */
const COST = { N: 2 ** 15, r: 8, p: 3, maxmem: 64 * 1024 * 1024 };
const HASH_BYTES = 32;

/** `scrypt$N$r$p$salt$hash`, so that costs can be raised later and old hashes still be checked. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await derive(password, salt, COST);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), hash.toString('base64url')].join('$');
}

/**
 * Whether this is the password. Takes as long for an account that does not exist or has no password (`stored`
 * null), so that the time tells nobody which names exist.
 */
export async function checkPassword(password: string, stored: string | null): Promise<boolean> {
  const [kind, N, r, p, salt, hash] = (stored ?? (await decoy())).split('$');
  if (kind !== 'scrypt' || !salt || !hash) throw new Error('a stored password is in an unknown form');
  const costs = { N: Number(N), r: Number(r), p: Number(p), maxmem: COST.maxmem };
  const derived = await derive(password, Buffer.from(salt, 'base64url'), costs);
  return timingSafeEqual(derived, Buffer.from(hash, 'base64url')) && stored !== null;
}

let decoyHash: Promise<string> | undefined;
const decoy = () => (decoyHash ??= hashPassword(randomBytes(16).toString('hex')));

function derive(password: string, salt: Buffer, costs: typeof COST): Promise<Buffer> {
  // One form for one password, whichever way a keyboard composes its letters (RFC 8265, 4.2).
  const normal = password.normalize('NFKC');
  return new Promise((resolve, reject) => {
    scrypt(normal, salt, HASH_BYTES, costs, (error, key) => (error ? reject(error) : resolve(key)));
  });
}
