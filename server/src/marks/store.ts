import type { Mark } from '@juncta/contract/marks';
import { and, asc, eq } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { showMark } from './schema';

export const isMark = (showId: string, id: string) => and(eq(showMark.showId, showId), eq(showMark.id, id));

/** In the order of the show. */
export async function marksOf(db: Queryable, showId: string): Promise<Mark[]> {
  const rows = await db
    .select()
    .from(showMark)
    .where(eq(showMark.showId, showId))
    .orderBy(asc(showMark.showTimeMs), asc(showMark.id));
  return rows.map(({ at, ...mark }) => ({ ...mark, atMs: at }));
}
