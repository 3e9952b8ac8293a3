import {
  compose,
  coverProgramme,
  endShow,
  readProgramme,
  setDelay,
  setPictureFormat,
} from '@juncta/contract/programme';
import { TICKET_LIFE_MS } from '@juncta/contract/uplink';
import { streamOf } from '@juncta/contract/events';
import type { Router } from 'express';
import type { Show } from '@juncta/contract/shows';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { takeOff } from '../chat/questions/on-programme';
import { appendEvent, lastSeq } from '../events/store';
import { wantNoFeeds } from '../feeds/store';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { followWants } from '../ingest/book-inputs';
import { endListing } from '../listings/at-place';
import { listingsOf } from '../listings/store';
import { marksOf } from '../marks/store';
import { recordingsOf } from '../recordings/store';
import { relayOf } from '../relay/relay';
import { findShow, lockShow, setProgrammeTimes, setShowDelay, setShowPictureFormat } from '../shows/store';
import { clearStage } from '../stage/store';
import { uplinkAddress } from '../uplink/uplink-address';
import { signTicket } from '../uplink/tickets';
import { describeComposing, findComposing, isComposedBy, takeComposing } from './composing';
import { endRun, findOpenRun, lastReport } from './store';

export function mountProgramme(router: Router, app: App): void {
  mount(router, app, readProgramme, async ({ params: { showId } }) => {
    // Asked for itself, since the relay reports by itself only what goes on; away, its last word is kept.
    const programme = await app.relay?.client.report(showId).catch(() => null);
    return app.db.transaction(
      async (tx) => {
        const last = await lastReport(tx, showId);
        const composing = await findComposing(tx, showId);
        return {
          programme: programme ?? null,
          recordings: programme?.recordings ?? (await recordingsOf(tx, showId)),
          marks: await marksOf(tx, showId),
          composing: composing ? describeComposing(composing) : null,
          atMs: last?.reportedAt ?? 0,
          seq: await lastSeq(tx, streamOf('programme', showId)),
        };
      },
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
  });

  mount(
    router,
    app,
    compose,
    async ({ params: { showId }, body: { deskId, takeOver }, memberId, visitor, req }) => {
      const link = relayOf(app);
      const show = (await findShow(app.db, showId))!;
      const before = await findComposing(app.db, showId);
      if (before && before.deskId !== deskId && !takeOver) {
        const { deskId: connected } = await link.client.report(showId);
        if (connected === before.deskId) {
          throw new Refusal(
            'composed_elsewhere',
            `${before.memberName} composes this show at another desk.`,
            {
              current: describeComposing(before),
            },
          );
        }
      }
      const { token } = visitor!;
      const epoch =
        before && isComposedBy(before, deskId, token)
          ? before.epoch
          : await app.db.transaction(async (tx) => {
              const taken = { showId, deskId, memberId, takenAt: app.clock.now() };
              const next = await takeComposing(tx, taken, token);
              const composing = describeComposing((await findComposing(tx, showId))!);
              await appendEvent(tx, app.clock, streamOf('programme', showId), 'composing.changed', {
                showId,
                composing,
              });
              return next;
            });
      await link.client.setEpoch(showId, epoch);
      await link.client.setDelay(showId, show.delayS);
      const expiresAtMs = app.securityClock.now() + TICKET_LIFE_MS;
      const ticket = signTicket({ showId, deskId, epoch, may: 'compose', expiresAtMs }, link.config.secret);
      return { ticket, uplinkUrl: uplinkAddress(app.config, req)!.href };
    },
  );

  mount(router, app, setDelay, async ({ params: { showId }, body: { delayS } }) => {
    const link = relayOf(app);
    const show = await settle(app, showId, 'The delay', (tx) => setShowDelay(tx, showId, delayS));
    await link.keep(await link.client.setDelay(showId, delayS));
    return show;
  });

  mount(router, app, setPictureFormat, async ({ params: { showId }, body: { pictureFormat } }) => {
    const change = (tx: Transaction) => setShowPictureFormat(tx, showId, pictureFormat);
    const show = await settle(app, showId, 'The size of the picture', change);
    await followWants(app, showId);
    return show;
  });

  mount(router, app, endShow, async ({ params: { showId } }) => {
    const link = relayOf(app);
    await wantNoFeeds(app.db, showId);
    const report = await link.client.end(showId);
    await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      const now = app.clock.now();
      if (!(await endRun(tx, showId, now))) return;
      await takeOff(app, tx, showId);
      await clearStage(app, tx, showId);
      const show = (await findShow(tx, showId))!;
      await setProgrammeTimes(tx, showId, { startedAt: show.startedAtMs, endedAt: now });
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await findShow(tx, showId))! });
    });
    for (const { destinationId } of await listingsOf(app.db, showId))
      await endListing(app, showId, destinationId);
    void link.endWhatIsOver();
    return link.keep(report);
  });

  mount(router, app, coverProgramme, async ({ params: { showId }, body }) => {
    const link = relayOf(app);
    return link.keep(await link.client.cover(showId, body.on));
  });
}

/** Changes of a show what is settled before its first feed. */
async function settle(
  app: App,
  showId: string,
  what: string,
  change: (tx: Transaction) => Promise<void>,
): Promise<Show> {
  return app.db.transaction(async (tx) => {
    await lockShow(tx, showId);
    if (!(await findShow(tx, showId))) throw notFound('show');
    if (await findOpenRun(tx, showId))
      throw new Refusal('not_ready', `${what} is settled before the first feed. End the show to change it.`);
    await change(tx);
    const show = (await findShow(tx, showId))!;
    await appendEvent(tx, app.clock, 'shows', 'show.saved', { show });
    return show;
  });
}
