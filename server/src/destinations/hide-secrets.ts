import { hideQuery } from '@juncta/core/destinations';
import { and, eq, like } from 'drizzle-orm';
import type { App } from '../app';
import { destination } from './schema';

/**
 * Addresses that an earlier version kept with what follows `?` in them lie open: that is locked with the key. Safe to
 * repeat; several servers at once do it once for each row.
 */
export async function hideAddressSecrets({
  db,
  secrets,
  log,
}: Pick<App, 'db' | 'secrets' | 'log'>): Promise<void> {
  const open = and(eq(destination.kind, 'custom_rtmp'), like(destination.address, 'rtmp%?%'));
  for (const { id, address, secret } of await db.select().from(destination).where(open)) {
    if (secret === null) continue;
    const hidden = hideQuery({ address, key: secrets.unlock(secret, id) });
    await db
      .update(destination)
      .set({ address: hidden.address, secret: secrets.lock(hidden.secret, id) })
      .where(and(eq(destination.id, id), eq(destination.address, address)));
    log.info({ destination: id }, 'what was secret in an address is locked now');
  }
}
