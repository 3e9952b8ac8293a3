import { answerFlood } from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import { belongs, BY_FLOOD, FLOOD_OVER_MS, FloodWatch, isWritten } from '@juncta/core/chat';
import { sql } from 'drizzle-orm';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../../app';
import type { Transaction } from '../../database/connect';
import { appendEvent } from '../../events/store';
import { notFound } from '../../http/errors';
import { mount } from '../../http/mount';
import { findMember } from '../../team/store';
import * as floods from './flood-store';
import { takeOffUnlessShown } from '../questions/on-programme';
import * as store from '../list/store';
import type { NewMessage } from '../ingest/written-store';

/** So long after its last message more of a flood that was set aside goes aside as well. */
const REMEMBERED_MS = 5 * 60_000;

interface Watched {
  readonly watch: FloodWatch;
  /** The row of the flood that the watch sees; null: it sees none. */
  id: string | null;
}

/** Watches the messages of every show for floods, keeps what it finds, and lets a person answer each in one step. */
export class Floods {
  private readonly byShow = new Map<string, Watched>();

  constructor(private readonly app: App) {}

  /** What was seen so far is not to be relied on, or not needed any more. */
  forget(showId: string): void {
    this.byShow.delete(showId);
  }

  /** Before messages are kept: those that are more of a flood that was set aside stand so from the beginning. */
  async judged(tx: Transaction, rows: readonly NewMessage[]): Promise<NewMessage[]> {
    const [first] = rows;
    if (!first) return [];
    const late = await floods.lateFloods(tx, first.showId, first.receivedAt - REMEMBERED_MS);
    const aside = late.filter(({ answer }) => answer === 'aside');
    if (aside.length === 0) return [...rows];
    return rows.map((row) => {
      if (row.owner || row.standing !== undefined || !isWritten(row.kind ?? 'message')) return row;
      const flood = aside.find((one) => belongs(floods.marksOf(one), authorOf(row), row.text));
      return flood ? { ...row, standing: 'aside', standingBy: BY_FLOOD, floodId: flood.id } : row;
    });
  }

  /**
   * After messages were kept: whether a flood is on, and what belongs to it. Gives the messages of before that are
   * otherwise now.
   */
  async note(tx: Transaction, showId: string, added: readonly NewMessage[]): Promise<readonly string[]> {
    const nowMs = this.app.securityClock.now();
    const watched = this.watchedOf(showId);
    if (watched.watch.look(nowMs) === null) watched.id = null;
    // Who is muted takes no part in anything; what rules caught does. Forty new followers are no flood.
    const seen = added.filter(
      ({ owner, floodId, standing, kind = 'message' }) =>
        !owner && !floodId && standing !== 'hidden' && isWritten(kind),
    );
    const ids = watched.watch.take(
      seen.map((row) => ({ id: row.id, author: authorOf(row), text: row.text, atMs: nowMs })),
    );
    const flood = watched.watch.current;
    const isMore = added.some(({ floodId }) => floodId);
    if ((!flood || ids.length === 0) && !isMore) return [];
    // What another line's batch has just found is not seen before it is kept: it would be found once more. Waited for
    // before anything is told: whoever told something holds up whoever else wants to, and both would wait for ever.
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`flood ${showId}`}))`);
    if (isMore) await this.countKnown(tx, showId, added, nowMs);
    if (!flood || ids.length === 0) return [];
    const known = watched.id === null ? null : await floods.findFlood(tx, showId, watched.id);
    watched.id = known?.id ?? randomUUID();
    const row = await floods.putFlood(tx, {
      id: watched.id,
      showId,
      sinceAt: known?.sinceAt ?? flood.sinceMs,
      lastAt: nowMs,
      endedAt: null,
      messages: (known?.messages ?? 0) + ids.length,
      writers: flood.writers,
      destinationIds: known?.destinationIds ?? [],
      samples: [...flood.samples],
      traits: flood.traits,
      authors: flood.authors,
      answer: known?.answer ?? 'open',
      answeredBy: known?.answeredBy ?? null,
    });
    await store.changeMessages(tx, ids, { floodId: row.id });
    if (row.answer === 'aside') await floods.setFloodAside(tx, row.id);
    // Where its messages are, and only there: what else came with them is somebody's own.
    const destinationIds = await floods.placesOfFlood(tx, row.id);
    await this.tell(tx, await floods.putFlood(tx, { ...row, destinationIds }));
    return ids;
  }

  /** Whether one is over. */
  async look(): Promise<void> {
    const nowMs = this.app.securityClock.now();
    for (const row of await floods.openFloods(this.app.db)) {
      if (nowMs - row.lastAt <= FLOOD_OVER_MS) continue;
      await this.app.db.transaction(async (tx) => {
        const still = await floods.findFlood(tx, row.showId, row.id);
        if (!still || nowMs - still.lastAt <= FLOOD_OVER_MS) return;
        await this.tell(tx, await floods.putFlood(tx, { ...still, endedAt: still.lastAt }));
      });
    }
  }

  async tell(tx: Transaction, row: floods.FloodRow): Promise<void> {
    await appendEvent(tx, this.app.clock, streamOf('chat', row.showId), 'flood.changed', {
      flood: floods.describeFlood(row),
    });
  }

  /** More of floods that were set aside: they are longer than they were. */
  private async countKnown(
    tx: Transaction,
    showId: string,
    added: readonly NewMessage[],
    nowMs: number,
  ): Promise<void> {
    for (const id of new Set(added.flatMap(({ floodId }) => floodId ?? []))) {
      const row = await floods.findFlood(tx, showId, id);
      if (!row) continue;
      const messages = row.messages + added.filter(({ floodId }) => floodId === id).length;
      const destinationIds = await floods.placesOfFlood(tx, id);
      const more = { ...row, messages, destinationIds, lastAt: nowMs, endedAt: null };
      await this.tell(tx, await floods.putFlood(tx, more));
    }
  }

  private watchedOf(showId: string): Watched {
    let watched = this.byShow.get(showId);
    if (!watched) this.byShow.set(showId, (watched = { watch: new FloodWatch(), id: null }));
    return watched;
  }
}

const authorOf = ({ destinationId, authorId }: NewMessage) => `${destinationId} ${authorId}`;

export function mountFloods(router: Router, app: App, watched: Floods): void {
  mount(router, app, answerFlood, async ({ params: { showId, floodId }, body: { answer }, memberId }) =>
    app.db.transaction(async (tx) => {
      const row = await floods.findFlood(tx, showId, floodId);
      if (!row) throw notFound('flood');
      // Said twice, it is done once.
      if (row.answer === answer) return { flood: floods.describeFlood(row) };
      const by = (await findMember(tx, memberId))?.name ?? '';
      if (answer === 'aside') await floods.setFloodAside(tx, floodId);
      else await floods.letFloodBe(tx, floodId, by);
      const messageId = await floods.firstOfFlood(tx, floodId);
      const act = answer === 'aside' ? ('flood_aside' as const) : ('flood_let_be' as const);
      if (messageId !== null)
        await store.noteActs(tx, [
          { id: randomUUID(), showId, messageId, act, by, at: app.securityClock.now() },
        ]);
      await takeOffUnlessShown(app, tx, showId);
      const kept = await floods.putFlood(tx, { ...row, answer, answeredBy: by });
      await watched.tell(tx, kept);
      return { flood: floods.describeFlood(kept) };
    }),
  );
}
