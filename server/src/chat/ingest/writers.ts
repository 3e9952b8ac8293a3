import { and, eq, ne, sql } from 'drizzle-orm';
import type { Transaction } from '../../database/connect';
import { chatWriter } from '../schema';
import type { NewMessage } from './written-store';

/**
 * Who has written in each show, and in how many others before. Asked for in the database once for each writer of a show;
 * after that it is known here.
 */
export class Writers {
  private readonly byShow = new Map<string, Map<string, number>>();

  /** What was noted and then not kept is not to be relied on. */
  forget(showId: string): void {
    this.byShow.delete(showId);
  }

  /** New messages of one show at one destination, with what their writers are known by. */
  async noted(tx: Transaction, rows: readonly NewMessage[]): Promise<NewMessage[]> {
    const [one] = rows;
    if (!one) return [];
    const { showId, destinationId } = one;
    let known = this.byShow.get(showId);
    if (!known) this.byShow.set(showId, (known = new Map<string, number>()));
    const nameOf = (authorId: string) => `${destinationId} ${authorId}`;
    const unknown = new Map<string, NewMessage>();
    for (const row of rows) {
      if (!row.owner && !known.has(nameOf(row.authorId)) && !unknown.has(row.authorId))
        unknown.set(row.authorId, row);
    }
    const firsts = new Set<string>();
    if (unknown.size > 0) {
      const authorIds = [...unknown.keys()];
      const wanted = sql`${chatWriter.authorId} = any(${sql.param(authorIds)})`;
      // As one parameter, as the messages themselves.
      const wire = [...unknown.values()].map(({ authorId, writtenAt }) => ({
        destination_id: destinationId,
        author_id: authorId,
        show_id: showId,
        at: new Date(writtenAt).toISOString(),
      }));
      const { rows: added } = await tx.execute<{ author_id: string }>(sql`
        insert into chat_writer (destination_id, author_id, show_id, at)
        select destination_id, author_id, show_id, at
        from jsonb_populate_recordset(null::chat_writer, ${JSON.stringify(wire)}::jsonb)
        on conflict do nothing returning author_id`);
      const others = await tx
        .select({ authorId: chatWriter.authorId, shows: sql<number>`count(*)::int` })
        .from(chatWriter)
        .where(and(eq(chatWriter.destinationId, destinationId), wanted, ne(chatWriter.showId, showId)))
        .groupBy(chatWriter.authorId);
      const shows = new Map(others.map((other) => [other.authorId, other.shows]));
      for (const authorId of authorIds) known.set(nameOf(authorId), shows.get(authorId) ?? 0);
      for (const { author_id } of added) firsts.add(unknown.get(author_id)!.id);
    }
    return rows.map((row) => ({
      ...row,
      otherShows: row.owner ? 0 : known.get(nameOf(row.authorId))!,
      first: firsts.has(row.id),
    }));
  }
}
