import { eq } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { show } from './schema';

/** Whether there is such a show, archived ones included. */
export async function showExists(db: Queryable, showId: string): Promise<boolean> {
  return (await db.select({ id: show.id }).from(show).where(eq(show.id, showId))).length > 0;
}
