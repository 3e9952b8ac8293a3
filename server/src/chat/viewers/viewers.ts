import { noteViewer, readViewer, type ViewerCard, type ViewerNote } from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import { and, count, desc, eq, ne, sql } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../../app';
import type { Queryable } from '../../database/connect';
import { appendEvent } from '../../events/store';
import { notFound, Refusal } from '../../http/errors';
import { mount } from '../../http/mount';
import { show } from '../../shows/schema';
import { findMember } from '../../team/store';
import { chatMessage, chatWriter, viewerNote } from '../schema';
import { findMessage, type MessageRow } from '../list/store';

const MOST_SHOWS = 20;

/** What is known of a viewer: what they wrote in other shows, and what the team noted. */
export function mountViewers(router: Router, app: App): void {
  const writerOf = async (showId: string, messageId: string): Promise<MessageRow> => {
    const row = await findMessage(app.db, showId, messageId);
    if (!row) throw notFound('message');
    if (row.owner) throw new Refusal('not_ready', 'This is what the house itself wrote.');
    return row;
  };

  mount(router, app, readViewer, async ({ params: { showId, messageId } }) =>
    cardOf(app.db, await writerOf(showId, messageId)),
  );

  mount(router, app, noteViewer, async ({ params: { showId, messageId }, body, memberId }) => {
    const { destinationId, authorId } = await writerOf(showId, messageId);
    const by = (await findMember(app.db, memberId))?.name ?? '';
    const values = { note: body.note, by, at: app.securityClock.now() };
    const note = { destinationId, authorId, note: body.note, by, atMs: values.at };
    return app.db.transaction(async (tx) => {
      if (body.note === '') await tx.delete(viewerNote).where(isAbout({ destinationId, authorId }));
      else
        await tx
          .insert(viewerNote)
          .values({ destinationId, authorId, ...values })
          .onConflictDoUpdate({ target: [viewerNote.destinationId, viewerNote.authorId], set: values });
      await appendEvent(tx, app.clock, streamOf('chat', showId), 'viewer.noted', { showId, note });
      return { note };
    });
  });
}

const isAbout = ({ destinationId, authorId }: Pick<MessageRow, 'destinationId' | 'authorId'>) =>
  and(eq(viewerNote.destinationId, destinationId), eq(viewerNote.authorId, authorId));

const describe = ({ destinationId, authorId, note, by, at }: typeof viewerNote.$inferSelect): ViewerNote => ({
  destinationId,
  authorId,
  note,
  by,
  atMs: at,
});

/** Of everybody who wrote in a show. */
export async function notesIn(db: Queryable, showId: string): Promise<ViewerNote[]> {
  const rows = await db
    .select({ viewerNote })
    .from(viewerNote)
    .innerJoin(
      chatWriter,
      and(
        eq(chatWriter.destinationId, viewerNote.destinationId),
        eq(chatWriter.authorId, viewerNote.authorId),
        eq(chatWriter.showId, showId),
      ),
    );
  return rows.map((row) => describe(row.viewerNote));
}

async function cardOf(db: Queryable, row: MessageRow): Promise<ViewerCard> {
  const { destinationId, authorId, showId } = row;
  const shows = await db
    .select({
      showId: chatWriter.showId,
      title: show.title,
      atMs: chatWriter.at,
      messages: sql<number>`(select count(*)::int from ${chatMessage} where ${chatMessage.showId} = ${chatWriter.showId} and ${chatMessage.destinationId} = ${destinationId} and ${chatMessage.authorId} = ${authorId})`,
    })
    .from(chatWriter)
    .innerJoin(show, eq(show.id, chatWriter.showId))
    .where(
      and(
        eq(chatWriter.destinationId, destinationId),
        eq(chatWriter.authorId, authorId),
        ne(chatWriter.showId, showId),
      ),
    )
    .orderBy(desc(chatWriter.at))
    .limit(MOST_SHOWS);
  const [hidden] = await db
    .select({ n: count() })
    .from(chatMessage)
    .where(
      and(
        eq(chatMessage.destinationId, destinationId),
        eq(chatMessage.authorId, authorId),
        eq(chatMessage.standing, 'hidden'),
      ),
    );
  const [note] = await db.select().from(viewerNote).where(isAbout({ destinationId, authorId }));
  return { shows, hidden: hidden!.n, note: note ? describe(note) : null };
}
