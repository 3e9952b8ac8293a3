import { Id } from '@juncta/contract/http';
import { putMark, removeMark, type Mark } from '@juncta/contract/marks';
import { streamOf } from '@juncta/contract/events';
import { toChapters } from '@juncta/core/marks';
import type { Router } from 'express';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { admit } from '../http/files';
import { mount } from '../http/mount';
import { findShow } from '../shows/store';
import { findMember } from '../team/store';
import { showMark } from './schema';
import { isMark, marksOf } from './store';

/** More moments than this nobody looks through. */
const MOST_MARKS = 500;

/** Moments of a show that somebody marks while it runs. */
export function mountMarks(router: Router, app: App): void {
  mount(router, app, putMark, async ({ params: { showId, markId: id }, body: { words }, memberId }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const by = (await findMember(app.db, memberId))?.name ?? '';
    return app.db.transaction(async (tx) => {
      const known = (await marksOf(tx, showId)).find((mark) => mark.id === id);
      if (known) await tx.update(showMark).set({ words }).where(isMark(showId, id));
      else {
        const showTimeMs = app.relay?.reportOf(showId)?.showTimeMs ?? null;
        if (showTimeMs === null)
          throw new Refusal('not_ready', 'The show does not run: there is no moment of it to mark.');
        if ((await marksOf(tx, showId)).length >= MOST_MARKS)
          throw new Refusal('not_ready', `A show has at most ${MOST_MARKS} marked moments.`);
        const values = {
          id,
          showId,
          showTimeMs: Math.round(showTimeMs),
          at: app.securityClock.now(),
          words,
          by,
        };
        await tx.insert(showMark).values(values);
      }
      return tell(app, tx, showId);
    });
  });

  mount(router, app, removeMark, async ({ params: { showId, markId } }) =>
    app.db.transaction(async (tx) => {
      await tx.delete(showMark).where(isMark(showId, markId));
      return tell(app, tx, showId);
    }),
  );

  /** `GET /api/shows/:show/chapters.vtt`: the marked moments of a show that is over, beside its recording. */
  router.get('/api/shows/:showId/chapters.vtt', async (req, res) => {
    await admit(app, req, 'chat.read');
    const { showId } = req.params;
    const show = Id.safeParse(showId).success ? await findShow(app.db, showId) : undefined;
    if (show?.startedAtMs == null || show.endedAtMs === null) throw notFound('file');
    res.setHeader('Cache-Control', 'private, no-store');
    res.attachment('juncta-chapters.vtt');
    res.type('text/vtt; charset=utf-8');
    const marks = await marksOf(app.db, showId);
    res.send(toChapters(marks, show.endedAtMs - show.startedAtMs, (n) => `Moment ${n}`));
  });
}

async function tell(app: App, tx: Transaction, showId: string): Promise<{ marks: Mark[] }> {
  const marks = await marksOf(tx, showId);
  await appendEvent(tx, app.clock, streamOf('programme', showId), 'marks.changed', { showId, marks });
  return { marks };
}
