import { readChatFigures, type ChatFigures } from '@juncta/contract/chat';
import { sql } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../../app';
import type { Queryable } from '../../database/connect';
import { notFound } from '../../http/errors';
import { mount } from '../../http/mount';
import { findShow } from '../../shows/store';

/** Figures of a show's messages: counted by the database, which has all of them. */
export function mountChatFigures(router: Router, app: App): void {
  mount(router, app, readChatFigures, async ({ params: { showId } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return chatFigures(app.db, showId);
  });
}

async function chatFigures(db: Queryable, showId: string): Promise<ChatFigures> {
  const minutes = await db.execute<{ destination: string; minute: number; messages: number }>(sql`
    select destination_id as destination, show_time_ms / 60000 as minute, count(*)::int as messages
    from chat_message where show_id = ${showId} and not practice and not owner and kind in ('message', 'private') and show_time_ms is not null
    group by 1, 2 order by 2, 1`);
  const counts = await db.execute<
    Pick<
      ChatFigures,
      'messages' | 'writers' | 'returning' | 'questions' | 'askers' | 'answered' | 'followers' | 'sales'
    > & { not_shown: number }
  >(sql`
    select (count(*) filter (where kind in ('message', 'private')))::int as messages,
      (count(distinct (destination_id, author_id)) filter (where kind in ('message', 'private')))::int as writers,
      (count(distinct (destination_id, author_id)) filter (where other_shows > 0 and kind in ('message', 'private')))::int as returning,
      (count(*) filter (where kind = 'follow'))::int as followers,
      (count(*) filter (where kind = 'sale'))::int as sales,
      (count(*) filter (where question <> 'none'))::int as questions,
      (count(distinct (destination_id, author_id)) filter (where question <> 'none'))::int as askers,
      (count(*) filter (where question = 'answered'))::int as answered,
      (count(*) filter (where standing <> 'shown'))::int as not_shown
    from chat_message where show_id = ${showId} and not practice and not owner`);
  const responses = await db.execute<{ median: number | null }>(sql`
    select percentile_cont(0.5) within group (order by took)::float8 as median from (
      select extract(epoch from min(reply.written_at) - asked.written_at) as took
      from chat_message reply join chat_message asked
        on asked.show_id = reply.show_id and asked.destination_id = reply.destination_id
        and asked.place_message_id = reply.reply_to_place_id
      where reply.show_id = ${showId} and not reply.practice and reply.owner and not asked.owner
      group by asked.id, asked.written_at) first_answers`);
  const pressed = await db.execute<{ minute: number; reactions: number }>(sql`
    select key::int as minute, sum(value::int)::int as reactions
    from chat_reactions, jsonb_each_text(minutes) where show_id = ${showId} group by 1 order by 1`);
  const all = await db.execute<{ reactions: number }>(sql`
    select coalesce(sum(value::int), 0)::int as reactions
    from chat_reactions, jsonb_each_text(counts) where show_id = ${showId}`);
  const { not_shown: notShown, ...rest } = counts.rows[0]!;
  return {
    ...rest,
    notShown,
    reactionMinutes: pressed.rows,
    reactions: all.rows[0]!.reactions,
    minutes: minutes.rows.map(({ destination, minute, messages }) => ({
      destinationId: destination,
      minute,
      messages,
    })),
    responseP50S: responses.rows[0]?.median ?? null,
  };
}
