import {
  readHouseTexts,
  readTimedTexts,
  saveHouseTexts,
  saveTimedTexts,
  type TimedText,
} from '@juncta/contract/chat';
import { fillHouseText, textDue } from '@juncta/core/chat';
import { and, asc, eq, notInArray, sql } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../../app';
import type { Queryable } from '../../database/connect';
import { versionOf } from '../../database/version';
import { notFound, Refusal } from '../../http/errors';
import { mount } from '../../http/mount';
import { findShow } from '../../shows/store';
import { houseText, timedText } from '../schema';
import { write } from './writing';

type TimedRow = typeof timedText.$inferSelect;

/** A place that did not take it is asked so often in all, once a second; its own limits on calls are longer. */
const MOST_TRIES = 5;

/** The texts that the house keeps ready, and those that a show writes by itself. */
export function mountTexts(router: Router, app: App): void {
  mount(router, app, readHouseTexts, () => withVersion(app.db));

  mount(router, app, saveHouseTexts, async ({ body: { texts, version } }) =>
    app.db.transaction(async (tx) => {
      // Two who save at once come one after the other, and the second is told.
      await tx.execute(sql`select pg_advisory_xact_lock(hashtext('house_text'))`);
      const current = await withVersion(tx);
      if (current.version !== version)
        throw new Refusal(
          'changed_meanwhile',
          'Somebody else changed these texts meanwhile. Nothing of yours was saved yet: look at theirs first.',
          { current },
        );
      await tx.delete(houseText);
      if (texts.length > 0)
        await tx.insert(houseText).values(texts.map(({ id, text }, position) => ({ id, text, position })));
      return withVersion(tx);
    }),
  );

  mount(router, app, readTimedTexts, async ({ params: { showId } }) => ({
    timed: (await timedTexts(app.db, showId)).map(describe),
  }));

  mount(router, app, saveTimedTexts, async ({ params: { showId }, body, memberId }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return app.db.transaction(async (tx) => {
      const waiting = and(eq(timedText.showId, showId), eq(timedText.state, 'waiting'))!;
      const ids = body.timed.map(({ id }) => id);
      await tx
        .delete(timedText)
        .where(ids.length > 0 ? and(waiting, notInArray(timedText.id, ids)) : waiting);
      for (const { id, text, when } of body.timed) {
        const values = { text, kind: when.kind, seconds: when.seconds, madeBy: memberId };
        await tx
          .insert(timedText)
          .values({ id, showId, ...values })
          // What was written meanwhile stays as it was written.
          .onConflictDoUpdate({ target: timedText.id, set: values, setWhere: waiting });
      }
      return { timed: (await timedTexts(tx, showId)).map(describe) };
    });
  });
}

/** Writes what is due in a show whose chats are open. Each text is written once at each place, whatever happens. */
export async function writeTimed(app: App, showId: string): Promise<void> {
  const waiting = (await timedTexts(app.db, showId)).filter(({ state }) => state === 'waiting');
  if (waiting.length === 0) return;
  const show = await findShow(app.db, showId);
  if (!show) return;
  const showTimeMs = app.relay?.reportOf(showId)?.showTimeMs ?? null;
  for (const row of waiting) {
    const due = textDue(row, show.startsAtMs, showTimeMs, app.clock.now());
    if (due === 'missed') await settle(app, row, { state: 'missed', sentence: null });
    if (due === 'due') await writeOne(app, row, fillHouseText(row.text, show.text, null).text);
  }
}

async function writeOne(app: App, row: TimedRow, text: string): Promise<void> {
  const tries = row.tries + 1;
  try {
    const asked = { showId: row.showId, id: row.id, text, memberId: row.madeBy, asked: null };
    const failed = (await write(app, asked)).filter(({ sent }) => !sent);
    if (failed.length === 0) await settle(app, row, { state: 'sent', sentence: null, tries });
    else {
      const sentence = failed.map((one) => one.sentence).join(' ');
      await settle(app, row, { state: tries < MOST_TRIES ? 'waiting' : 'partly', sentence, tries });
    }
  } catch (error) {
    // There is no place that could be written at yet: that is no try.
    if (!(error instanceof Refusal)) throw error;
  }
}

async function settle(
  app: App,
  row: TimedRow,
  values: Partial<Pick<TimedRow, 'state' | 'sentence' | 'tries'>>,
): Promise<void> {
  await app.db.update(timedText).set(values).where(eq(timedText.id, row.id));
}

const houseTexts = (db: Queryable) =>
  db.select({ id: houseText.id, text: houseText.text }).from(houseText).orderBy(asc(houseText.position));

async function withVersion(db: Queryable) {
  const texts = await houseTexts(db);
  return { texts, version: versionOf(texts) };
}

const timedTexts = (db: Queryable, showId: string): Promise<TimedRow[]> =>
  db
    .select()
    .from(timedText)
    .where(eq(timedText.showId, showId))
    .orderBy(asc(timedText.kind), asc(timedText.seconds), asc(timedText.id));

const describe = ({ id, text, kind, seconds, state, sentence }: TimedRow): TimedText => ({
  id,
  text,
  when: { kind, seconds },
  state,
  sentence,
});
